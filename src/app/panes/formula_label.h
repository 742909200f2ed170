// SPDX-License-Identifier: GPL-3.0-or-later
// A formula set as mathematics, by the drawing engine; broken into lines where it is longer than its place.
#pragma once

#include <QWidget>
#include <string>

namespace jointer::app {

class FormulaLabel final : public QWidget {
    Q_OBJECT
public:
    explicit FormulaLabel(QWidget* parent = nullptr);
    void showFormula(const std::string& formula); // as typed; hidden where it cannot be read

    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<std::string> lines(int width) const; // of markup
    std::vector<std::string> pieces_;                // between which a line may end
};

} // namespace jointer::app
