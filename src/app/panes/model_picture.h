// SPDX-License-Identifier: GPL-3.0-or-later
// Small pictures of models, drawn by the drawing engine: the typical curve of a library model, or a curve
// over points.
#pragma once

#include "data/curve.h"

#include <QImage>
#include <string>
#include <vector>

namespace jointer::app {

inline constexpr QSize kPictureSize{104, 60};

// Null: the model has no example.
QImage modelPicture(const std::string& key, qreal pixelRatio);
// Of the model with these parameters over points.
QImage fitPicture(const std::string& key, const std::vector<double>& parameters, const Curve& points,
                  qreal pixelRatio);

} // namespace jointer::app
