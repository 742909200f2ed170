// SPDX-License-Identifier: GPL-3.0-or-later
// How the parameters of the open fit go together: their correlations as a picture, and the joint confidence region of the two
// that are chosen in it.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "fit/region.h"

#include <QWidget>

class QLabel;
class QScrollArea;

namespace jointer::app {

class CorrelationPicture;
class RegionPlot;

class PairRow final : public QWidget {
    Q_OBJECT
public:
    explicit PairRow(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return !waiting_; }
    const fit::Region& shown() const { return region_; }

private:
    void showNothing(const QString& why);
    void follow();
    void show(const fit::Region& region, const std::string& sentence);

    Document& document_;
    LatestJob job_;
    QLabel* sentence_;
    CorrelationPicture* picture_;
    QScrollArea* scroll_;
    RegionPlot* plot_;
    evaluate::AnalysisOutcome outcome_;
    fit::Correlation correlation_; // of the parameters of the dataset
    std::pair<std::string, std::string> chosen_; // names; kept from fit to fit
    fit::Region region_;
    bool waiting_ = false;
};

} // namespace jointer::app
