// SPDX-License-Identifier: GPL-3.0-or-later
// What a file that is read becomes in the project: which of its tables, their names and attributes; or, where
// a table is read again, what changes in it and what would be lost.
#pragma once

#include "session/import.h"

#include <QWidget>
#include <optional>

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;

namespace jointer::app {

class ImportTarget final : public QWidget {
    Q_OBJECT
public:
    explicit ImportTarget(QWidget* parent = nullptr);

    // The tables of a reading; none: nothing could be read. The one called like `wanted` is chosen first.
    void showTables(const io::ReadResult* reading, const std::string& wanted);
    // The names of the files that wait, for the preview of what the pattern finds.
    void showFound(const std::vector<std::string>& names);
    // What reading again would do; without it names and attributes are shown.
    struct Consequences {
        QStringList changes, losses;
    };
    void showConsequences(const std::optional<Consequences>& consequences);

    // The chosen table is a list of samples: offers to make it attributes instead of a table. Empty: it is
    // none.
    void showSamples(const QString& words);
    bool asSamples() const;

    ImportPlan plan() const;
    std::size_t chosenTable() const;

Q_SIGNALS:
    void tableChosen(int index);

private:
    void buildNames();

    QCheckBox* samples_;
    QListWidget* tables_;
    QLabel* caption_;
    QWidget* naming_;
    QLineEdit *called_, *pattern_;
    QLabel *found_, *changes_, *losses_;
    std::vector<std::string> names_;
};

} // namespace jointer::app
