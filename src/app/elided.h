// SPDX-License-Identifier: GPL-3.0-or-later
// A label or a button whose words give way where a pane is narrow: shortened in the middle, whole in the
// tooltip.
#pragma once

#include <QFontMetrics>
#include <QResizeEvent>
#include <QString>
#include <algorithm>

namespace jointer::app {

template <class Base> class Elided final : public Base {
public:
    explicit Elided(const QString& words, QWidget* parent = nullptr) : Base(parent), words_(words) {
        this->setText(words);
        this->setAccessibleName(words);
        this->setSizePolicy(QSizePolicy::Preferred, this->sizePolicy().verticalPolicy()); // may shrink
    }

    QSize sizeHint() const override { return {framing() + advance(words_), Base::sizeHint().height()}; }
    QSize minimumSizeHint() const override {
        return {std::min(sizeHint().width(), framing() + advance("mmm…")), Base::minimumSizeHint().height()};
    }

protected:
    void resizeEvent(QResizeEvent* event) override {
        Base::resizeEvent(event);
        const QString shown =
            this->fontMetrics().elidedText(words_, Qt::ElideMiddle, this->width() - framing() + 1);
        if (shown == this->text()) return;
        this->setText(shown);
        if (this->toolTip().isEmpty() && shown != words_) this->setToolTip(words_);
    }

private:
    int advance(const QString& words) const { return this->fontMetrics().horizontalAdvance(words); }
    int framing() const {       // what is not text
        this->ensurePolished(); // the style chooses the font
        return Base::sizeHint().width() - advance(this->text());
    }

    QString words_;
};

} // namespace jointer::app
