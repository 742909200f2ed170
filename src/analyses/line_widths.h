// SPDX-License-Identifier: GPL-3.0-or-later
// What is read from the widths of diffraction lines: the instrument's own width taken away, the size of
// crystallites, strain. Pure functions.
#pragma once

#include <optional>
#include <utility>
#include <vector>

namespace jointer::analyses {

// A width of a line profile by its two parts, both full widths at half maximum in the unit of x.
struct WidthParts {
    double gauss = 0, lorentz = 0;
};

enum class LineProfile { Gaussian, Lorentzian, Voigt };

// The parts of a pseudo-Voigt of a full width and a Lorentzian share. Source: Th. H. de Keijser, J. I.
// Langford, E. J. Mittemeijer, A. B. P. Vogels, J. Appl. Cryst. 15 (1982) 308; P. Thompson, D. E. Cox, J. B.
// Hastings, J. Appl. Cryst. 20 (1987) 79.
WidthParts partsOfPseudoVoigt(double fwhm, double share);

// Full width at half maximum and integral breadth (area over height) of a Voigt profile; exact.
double fwhmOf(const WidthParts& parts);
double breadthOf(const WidthParts& parts);

// The sample's own width: Gaussian parts by squares, Lorentzian parts by their difference; of one profile
// only the width of that sort. None: the line is not wider than the instrument's.
std::optional<WidthParts> withoutInstrument(const WidthParts& line, const WidthParts& instrument,
                                            LineProfile profile);

// K·λ/(β·cos θ), β in radians of 2θ. Source: P. Scherrer, Göttinger Nachrichten 2 (1918) 98.
double scherrerSize(double breadth, double theta, double wavelength, double shape);
// β/(4·tan θ). Source: A. R. Stokes, A. J. C. Wilson, Proc. Phys. Soc. 56 (1944) 174.
double strainOf(double breadth, double theta);

// U·tan²θ + V·tan θ + W, the square of the instrument's width. Source: G. Caglioti, A. Paoletti, F. P. Ricci,
// Nucl. Instrum. 3 (1958) 223.
struct SquareLaw {
    double u = 0, v = 0, w = 0;
    double width(double theta) const; // NaN: the square is below nought
};
// Through three lines or more by least squares of the squares; fewer: W alone, their mean.
SquareLaw squareLawThrough(const std::vector<std::pair<double, double>>& thetaAndWidth);

// Size and strain apart, from the breadths (radians) of several lines: β·cos θ = K·λ/D + 4·ε·sin θ, or its
// terms' squares. Source: G. K. Williamson, W. H. Hall, Acta Metall. 1 (1953) 22.
struct SizeAndStrain {
    double size = 0, sizeError = 0, strain = 0, strainError = 0;
};
struct MeasuredBreadth {
    double theta, breadth, error;
};
// None: fewer than three lines, or a size that is not above nought.
std::optional<SizeAndStrain> sizeAndStrain(const std::vector<MeasuredBreadth>& lines, double wavelength,
                                           double shape, bool squares);

} // namespace jointer::analyses
