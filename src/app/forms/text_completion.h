// SPDX-License-Identifier: GPL-3.0-or-later
// Completes markup while it is typed: signs behind a backslash, by their names or by what they mean; names of
// numbers behind an opening brace.
#pragma once

#include <QObject>
#include <functional>
#include <string>
#include <utility>
#include <vector>

class QCompleter;
class QLineEdit;
class QStandardItemModel;

namespace jointer::app {

class TextCompletion final : public QObject {
    Q_OBJECT
public:
    // A name and what it would be now.
    using Names = std::function<std::vector<std::pair<std::string, std::string>>()>;
    TextCompletion(QLineEdit* field, Names names);
    bool isOpen() const;

private:
    void offer();
    void take(const QString& insertion);

    QLineEdit* field_;
    Names names_;
    QStandardItemModel* model_;
    QCompleter* completer_;
    int from_ = 0; // where what is replaced begins
};

} // namespace jointer::app
