// SPDX-License-Identifier: GPL-3.0-or-later
// Models beside each other: a small plot of each over the same points, with its weight as a bar, and one sentence that
// says which the points speak for and what speaks against it. The fits of the dataset, and of the open one its
// neighbours in the library; a click opens a fit, or makes the model that of the open one.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "fit/compare.h"

#include <QImage>
#include <QWidget>

class QHBoxLayout;
class QLabel;

namespace jointer::app {

class ModelRow final : public QWidget {
    Q_OBJECT
public:
    explicit ModelRow(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return !waiting_; }

    struct Tile {
        std::string name;
        AnalysisId fit;    // none: what is not there yet
        ModelNode model{}; // that the open one could have; of no kind: a curve without a formula
        bool open = false;
        double weight = 0, difference = 0;
        std::string state{};
        QImage picture{};
    };

    struct Found {
        std::vector<Tile> tiles;
        fit::Verdict verdict;
    };

private:
    void fill(const Found& found);
    void take(const Tile& tile);

    Document& document_;
    LatestJob job_;
    QLabel* sentence_;
    QWidget* tiles_;
    bool waiting_ = false;
};

} // namespace jointer::app
