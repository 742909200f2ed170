// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_button.h"

#include "app/panes/model_picture.h"
#include "app/widgets.h"

#include <QHBoxLayout>
#include <QLabel>

namespace jointer::app {

namespace {
constexpr int kLeast = 44; // the picture and a little room
}

ModelButton::ModelButton(QWidget* parent) : QPushButton(parent), picture_(new QLabel), name_(new QLabel) {
    setObjectName("model");
    setAccessibleName(tr("Model"));
    setToolTip(tr("Choose another model"));
    setMinimumHeight(kLeast);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred); // a long name takes three lines
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 4, 8, 4);
    row->setSpacing(8);
    name_->setWordWrap(true);
    row->addWidget(picture_);
    row->addWidget(name_, 1);
    row->addWidget(muted("▾"));
    for (QLabel* part : findChildren<QLabel*>()) part->setAttribute(Qt::WA_TransparentForMouseEvents);
}

void ModelButton::showModel(const std::string& key, const QString& name) {
    name_->setText(name);
    QPixmap half = QPixmap::fromImage(modelPicture(key, devicePixelRatioF()));
    picture_->setVisible(!half.isNull());
    half.setDevicePixelRatio(2 * devicePixelRatioF());
    picture_->setPixmap(half);
}

} // namespace jointer::app
