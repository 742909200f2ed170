// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/colour_sight.h"

#include "draw/revise.h"

#include <array>
#include <cmath>

namespace jointer::draw {

namespace {

using Light = std::array<double, 3>; // linear red, green, blue

Light lightOf(Colour c) {
    return {draw::lightOf(c.r), draw::lightOf(c.g), draw::lightOf(c.b)};
}

using Rows = std::array<Light, 3>;
constexpr Rows kProtan = {
    {{0.152286, 1.052583, -0.204868}, {0.114503, 0.786281, 0.099216}, {-0.003882, -0.048116, 1.051998}}};
constexpr Rows kDeutan = {
    {{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}}};
constexpr Rows kTritan = {
    {{1.255528, -0.076749, -0.178779}, {-0.078411, 0.930809, 0.147602}, {0.004733, 0.691367, 0.303900}}};

double luminance(Colour c) {
    const Light l = lightOf(c);
    return 0.2126 * l[0] + 0.7152 * l[1] + 0.0722 * l[2];
}

} // namespace

Sight sightFromKey(std::string_view key) {
    return key == "protan"   ? Sight::Protan
           : key == "deutan" ? Sight::Deutan
           : key == "tritan" ? Sight::Tritan
           : key == "grey"   ? Sight::Grey
                             : Sight::Usual;
}

Colour seenBy(Colour c, Sight sight) {
    if (sight == Sight::Usual) return c;
    if (sight == Sight::Grey) return greyOf(c);
    const Rows& rows = sight == Sight::Protan ? kProtan : sight == Sight::Deutan ? kDeutan : kTritan;
    const Light l = lightOf(c);
    const auto row = [&](std::size_t k) {
        return codeOf(rows[k][0] * l[0] + rows[k][1] * l[1] + rows[k][2] * l[2]);
    };
    return {row(0), row(1), row(2), c.a};
}

DisplayList seenBy(const DisplayList& list, Sight sight) {
    return recoloured(list, [sight](Colour c) { return seenBy(c, sight); });
}

Perceived perceived(Colour c) {
    const Light v = lightOf(c);
    const double l = std::cbrt(0.4122214708 * v[0] + 0.5363325363 * v[1] + 0.0514459929 * v[2]),
                 m = std::cbrt(0.2119034982 * v[0] + 0.6806995451 * v[1] + 0.1073969566 * v[2]),
                 s = std::cbrt(0.0883024619 * v[0] + 0.2817188376 * v[1] + 0.6299787005 * v[2]);
    return {0.2104542553 * l + 0.7936177850 * m - 0.0040720468 * s,
            1.9779984951 * l - 2.4285922050 * m + 0.4505937099 * s,
            0.0259040371 * l + 0.7827717662 * m - 0.8086757660 * s};
}

Colour shown(const Perceived& c) {
    const double l = std::pow(c.lightness + 0.3963377774 * c.a + 0.2158037573 * c.b, 3),
                 m = std::pow(c.lightness - 0.1055613458 * c.a - 0.0638541728 * c.b, 3),
                 s = std::pow(c.lightness - 0.0894841775 * c.a - 1.2914855480 * c.b, 3);
    return {codeOf(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
            codeOf(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
            codeOf(-0.0041960863 * l - 0.7034186147 * m + 1.7076147010 * s)};
}

double difference(Colour a, Colour b) {
    const Perceived p = perceived(a), q = perceived(b);
    return std::hypot(p.lightness - q.lightness, p.a - q.a, p.b - q.b);
}

double contrast(Colour a, Colour b) {
    const double one = luminance(a) + 0.05, two = luminance(b) + 0.05;
    return std::max(one, two) / std::min(one, two);
}

} // namespace jointer::draw
