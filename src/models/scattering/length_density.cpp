// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/length_density.h"

#include "base/text.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <fmt/format.h>

namespace jointer::models::scattering {

namespace {

struct Element {
    std::string_view symbol;
    int electrons;
    double mass;    // g/mol
    double neutron; // bound coherent length, fm
};

constexpr Element kElements[] = {
    {"H", 1, 1.008, -3.739},    {"D", 1, 2.0141, 6.671},    {"Li", 3, 6.94, -1.90},
    {"Be", 4, 9.0122, 7.79},    {"B", 5, 10.81, 5.30},      {"C", 6, 12.011, 6.646},
    {"N", 7, 14.007, 9.36},     {"O", 8, 15.999, 5.803},    {"F", 9, 18.998, 5.654},
    {"Ne", 10, 20.180, 4.566},  {"Na", 11, 22.990, 3.63},   {"Mg", 12, 24.305, 5.375},
    {"Al", 13, 26.982, 3.449},  {"Si", 14, 28.085, 4.1491}, {"P", 15, 30.974, 5.13},
    {"S", 16, 32.06, 2.847},    {"Cl", 17, 35.45, 9.577},   {"Ar", 18, 39.948, 1.909},
    {"K", 19, 39.098, 3.67},    {"Ca", 20, 40.078, 4.70},   {"Ti", 22, 47.867, -3.438},
    {"V", 23, 50.942, -0.3824}, {"Cr", 24, 51.996, 3.635},  {"Mn", 25, 54.938, -3.73},
    {"Fe", 26, 55.845, 9.45},   {"Co", 27, 58.933, 2.49},   {"Ni", 28, 58.693, 10.3},
    {"Cu", 29, 63.546, 7.718},  {"Zn", 30, 65.38, 5.680},   {"Br", 35, 79.904, 6.795},
    {"Rb", 37, 85.468, 7.09},   {"Sr", 38, 87.62, 7.02},    {"Zr", 40, 91.224, 7.16},
    {"Mo", 42, 95.95, 6.715},   {"Pd", 46, 106.42, 5.91},   {"Ag", 47, 107.87, 5.922},
    {"Sn", 50, 118.71, 6.225},  {"I", 53, 126.90, 5.28},    {"Cs", 55, 132.91, 5.42},
    {"Ba", 56, 137.33, 5.07},   {"Pt", 78, 195.08, 9.60},   {"Au", 79, 196.97, 7.63},
    {"Pb", 82, 207.2, 9.405}};

constexpr double kElectronRadius = 2.8179403205e-5; // Å (CODATA 2022)
constexpr double kAvogadro = 6.02214076e23;

struct Sum {
    double electrons = 0, mass = 0, neutron = 0;
    void add(const Sum& o, double times) {
        electrons += times * o.electrons, mass += times * o.mass, neutron += times * o.neutron;
    }
};

class Reader {
public:
    explicit Reader(std::string_view text) : text_(text) {}

    Result<Sum> all() {
        auto sum = group();
        if (sum && at_ < text_.size()) return wrong();
        if (sum && sum->mass == 0) return failure("formula", "Type a formula such as “C12H26”.");
        return sum;
    }

private:
    std::unexpected<Issue> wrong() const {
        return failure("formula",
                       fmt::format("“{}” cannot be read at “{}”: write elements and numbers, such as "
                                   "“C12H26”, “D2O”, “Ca(OH)2”.",
                                   text_, text_.substr(at_, 8)));
    }
    bool isAt(char c) const { return at_ < text_.size() && text_[at_] == c; }

    double count() {
        const std::size_t from = at_;
        while (at_ < text_.size() &&
               (std::isdigit(static_cast<unsigned char>(text_[at_])) || text_[at_] == '.'))
            ++at_;
        return parseNumber(text_.substr(from, at_ - from)).value_or(1);
    }

    Result<Sum> group() {
        Sum sum;
        while (at_ < text_.size() && text_[at_] != ')') {
            if (text_[at_] == ' ') {
                ++at_;
                continue;
            }
            if (isAt('(')) {
                ++at_;
                const auto inner = group();
                if (!inner) return inner;
                if (!isAt(')')) return wrong();
                ++at_;
                sum.add(*inner, count());
                continue;
            }
            const Element* element = nullptr;
            for (std::size_t length : {2, 1}) {
                const auto found = std::ranges::find(kElements, text_.substr(at_, length), &Element::symbol);
                if (found == std::end(kElements)) continue;
                element = found;
                break;
            }
            if (!element) return wrong();
            at_ += element->symbol.size();
            sum.add({double(element->electrons), element->mass, element->neutron}, count());
        }
        return sum;
    }

    std::string_view text_;
    std::size_t at_ = 0;
};

} // namespace

Result<double> lengthDensity(std::string_view formula, double density, Probe probe) {
    const auto sum = Reader(formula).all();
    if (!sum) return std::unexpected(sum.error());
    const double perVolume = density / sum->mass * kAvogadro * 1e-24; // per Å³
    return perVolume * (probe == Probe::Neutrons ? sum->neutron * 1e-5 : sum->electrons * kElectronRadius);
}

} // namespace jointer::models::scattering
