// SPDX-License-Identifier: GPL-3.0-or-later
// Choosing a model: pictures by purpose, a search, and above all the fits that would serve this dataset.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QFrame>

class QGridLayout;
class QLineEdit;
class QScrollArea;
class QVBoxLayout;

namespace jointer::app {

class ModelPicker final : public QFrame {
    Q_OBJECT
public:
    // `input`: what the fit takes of the current dataset.
    ModelPicker(Document& document, const AnalysisInput& input, const std::string& chosen,
                QWidget* parent = nullptr);
    void openAt(QPoint topRight);
    bool isCurrent() const { return !waiting_; }

    // An equation that was kept, by the key that is chosen; none: it is a kind of the library.
    std::optional<UserModel> keptModel(const std::string& key) const;

Q_SIGNALS:
    void chosen(const QString& key);

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    void build(const QString& typed);
    void lookForServing(const AnalysisInput& input);
    QWidget* tile(const std::string& key, const QString& name, const QString& below, const QImage& picture);
    void addKept(const QString& typed);
    void addFromFile();
    void addHeading(const QString& words);
    void addTiles(const std::vector<QWidget*>& tiles);

    Document& document_;
    LatestJob job_;
    std::vector<UserModel> kept_; // of the project, then of the personal library
    std::string now_;
    QLineEdit* search_;
    QScrollArea* scroll_;
    QVBoxLayout* column_;
    QWidget* serving_ = nullptr;
    QGridLayout* servingGrid_ = nullptr;
    bool waiting_ = true;
    std::string first_; // of the models shown: taken with Return
};

} // namespace jointer::app
