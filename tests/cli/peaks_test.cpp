// SPDX-License-Identifier: GPL-3.0-or-later
// `peaks` by its contract: what it finds and fits, as JSON; what it says of wrong input.
#include "run_cli.h"

#include <cmath>
#include <fmt/format.h>

using namespace jointer::test;

namespace {

// Lines of a shape at places with heights and widths on a slope; every third decimal is noise of a kind.
std::string lines(const std::vector<std::array<double, 3>>& peaks, bool lorentz) {
    std::string text = "shift (cm-1),counts\n";
    for (int i = 0; i <= 800; ++i) {
        const double x = 600 + 0.25 * i;
        double y = 40 + 0.05 * (x - 600) + 0.4 * std::sin(1.7 * i * i);
        for (const auto& [c, h, w] : peaks) {
            const double u = (x - c) / w;
            y += lorentz ? h / (1 + 4 * u * u) : h * std::exp(-4 * std::log(2) * u * u);
        }
        text += fmt::format("{},{:.4f}\n", x, y);
    }
    return text;
}

} // namespace

class CliPeaks : public Cli {};

TEST_F(CliPeaks, FindsAndFits) {
    const std::string file = write("lines.csv", lines({{650, 200, 8}, {671, 90, 10}, {740, 150, 6}}, true));
    const Ran r = run("peaks " + file + " --x shift --y counts --shape lorentzian --json");
    ASSERT_EQ(r.status, 0) << r.err;
    const json d = r.document();
    ASSERT_EQ(d["peaks"].size(), 3U);
    EXPECT_NEAR(d["peaks"][0]["centre"]["value"], 650, 0.05);
    EXPECT_NEAR(d["peaks"][1]["height"]["value"], 90, 1);
    EXPECT_NEAR(d["peaks"][2]["fwhm"]["value"], 6, 0.1);
    EXPECT_NEAR(d["peaks"][2]["area"]["value"], 150 * 6 * M_PI / 2, 20);
    EXPECT_GT(d["peaks"][2]["area"]["se"], 0);
    EXPECT_EQ(d["state"], "converged");
    EXPECT_TRUE(d["parameters"].is_array());
    const Ran found = run("peaks " + file + " --x shift --y counts --find-only --json");
    ASSERT_EQ(found.status, 0) << found.err;
    EXPECT_EQ(found.document()["found"].size(), 3U);
    EXPECT_FALSE(found.document().contains("peaks"));
    EXPECT_EQ(run("peaks " + file + " --x shift --y counts --shape lorentzian --count 1 --json")
                  .document()["peaks"]
                  .size(),
              1U);
}

TEST_F(CliPeaks, CallsThemByTheirPlaceOrHeight) {
    const std::string file = write("lines.csv", lines({{650, 200, 8}, {671, 90, 10}, {740, 150, 6}}, true));
    const auto names = [&](const std::string& called) {
        std::string out;
        const json d = run("peaks " + file + " --x shift --y counts --shape lorentzian --json " + called).document();
        for (const auto& peak : d["peaks"]) out += peak["name"].get<std::string>() + " ";
        return out;
    };
    EXPECT_EQ(names("--called \"G band=668,D band=738\""), "1 G band D band ");
    EXPECT_EQ(names("--called main=668:30 --set naming=highest"), "main 2 3 ");
    EXPECT_EQ(names("--called a=0,b=0 --set naming=height"), "a 2 b ");
    const Ran wrong = run("peaks " + file + " --x shift --y counts --called main=here");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_NE(wrong.err.find("--called"), std::string::npos) << wrong.err;
}

TEST_F(CliPeaks, TakesCentresLimitsAndTies) {
    const std::string file = write("lines.csv", lines({{650, 200, 8}, {740, 150, 8}}, false));
    const Ran r = run(
        "peaks " + file +
        " --x shift --y counts --centres 740,650 --baseline line --tie-all fwhm --limits fwhm=1:20 --json");
    ASSERT_EQ(r.status, 0) << r.err;
    const json d = r.document();
    ASSERT_EQ(d["peaks"].size(), 2U);
    EXPECT_LT(d["peaks"][0]["centre"]["value"], d["peaks"][1]["centre"]["value"]) << "in order of x";
    EXPECT_EQ(d["peaks"][0]["fwhm"]["value"], d["peaks"][1]["fwhm"]["value"]);
    const Ran narrow =
        run("peaks " + file + " --x shift --y counts --centres 650,740 --limits fwhm=1:5 --json");
    EXPECT_EQ(narrow.status, 1);
    EXPECT_EQ(narrow.document()["state"], "on-limit");
    EXPECT_EQ(narrow.document()["peaks"][0]["fwhm"]["value"], 5);
}

TEST_F(CliPeaks, KnowsPartnersAndWhatHasNoArea) {
    const std::string file =
        write("doublets.csv", lines({{650, 200, 5}, {658, 100, 5}, {740, 80, 5}, {748, 40, 5}}, true));
    const Ran r = run("peaks " + file +
                      " --x shift --y counts --shape lorentzian --centres 650,740 --partner \"ratio=0.5 "
                      "distance=8\" --json");
    ASSERT_EQ(r.status, 0) << r.err;
    const json partner = r.document()["peaks"][0]["partner"];
    EXPECT_NEAR(partner["centre"]["value"], 658, 0.05);
    EXPECT_NEAR(partner["height"]["value"], 100, 1);
    EXPECT_NEAR(partner["area"]["value"].get<double>() /
                    r.document()["peaks"][0]["area"]["value"].get<double>(),
                0.5, 1e-9);
    const Ran sunjic = run(
        "peaks " + file + " --x shift --y counts --shape doniach-sunjic --centres 650 --span 630:655 --json");
    const json p = sunjic.document()["peaks"][0];
    EXPECT_TRUE(p["area"].is_null());
    EXPECT_GT(p["area_in_span"]["value"], 0);
    EXPECT_TRUE(p["maximum"]["place"].is_object());
}

TEST_F(CliPeaks, GivesSizesFromWidths) {
    std::string text = "angle,counts\n";
    for (int i = 0; i < 2000; ++i) {
        const double x = 30 + 0.01 * i;
        text += fmt::format("{},{:.4f}\n", x,
                            10 + 300 / (1 + 4 * std::pow((x - 38) / 0.4, 2)) + 0.1 * std::sin(2.3 * i * i));
    }
    const std::string file = write("scan.csv", text),
                      what = "peaks " + file +
                             " --x angle --y counts --shape lorentzian --centres 38 --json --widths ";
    const Ran r =
        run(what +
            "\"instrument=0.1 shape=0.9 wavelength=1.5406 unit=deg2theta breadth=fwhm profile=lorentzian\"");
    ASSERT_EQ(r.status, 0) << r.err;
    const double wanted = 0.9 * 1.5406 / (0.3 * M_PI / 180 * std::cos(19 * M_PI / 180));
    EXPECT_NEAR(r.document()["peaks"][0]["size"]["value"], wanted, 0.002 * wanted);
    EXPECT_GT(r.document()["peaks"][0]["size"]["se"], 0);
    const json bound = run(what + "\"instrument=0.5\"").document()["peaks"][0];
    EXPECT_FALSE(bound.contains("size"));
    EXPECT_GT(bound["larger_than"], 0);
    EXPECT_EQ(run(what + "\"instrument=many\"").status, 2);
}

TEST_F(CliPeaks, SaysWhatIsWrong) {
    const std::string file = write("lines.csv", lines({{650, 200, 8}}, true));
    EXPECT_EQ(run("peaks " + file + " --x shift --y counts --shape hexagon").status, 2);
    EXPECT_EQ(run("peaks " + file + " --x shift --y counts --partner \"ratio=0.5 place=3\"").status, 2);
    EXPECT_EQ(run("peaks " + file + " --x shift --y counts --centres here").status, 2);
    EXPECT_EQ(run("peaks " + file + " --x shift --y counts --equation \"a*x\"").status, 2);
    EXPECT_EQ(run("peaks " + path("none.csv") + " --x shift --y counts").status, 3);
    const std::string flat = write("flat.csv", lines({}, true));
    const Ran none = run("peaks " + flat + " --x shift --y counts --json");
    EXPECT_EQ(none.status, 4);
    EXPECT_TRUE(none.out.empty());
    EXPECT_EQ(run("peaks " + flat + " --x shift --y counts --find-only --json").status, 0);
}

TEST_F(CliPeaks, GiveLatticesAndSeparations) {
    // Three lines of a cubic lattice of 5.4, the sample displaced.
    const auto place = [](int square) {
        const double theta = std::asin(0.5 * 1.5406 * std::sqrt(square) / 5.4);
        return (2 * theta - 2 * 1e-3 * std::cos(theta)) * 180 / M_PI;
    };
    std::string text = "two_theta,counts\n";
    for (int i = 0; i <= 3000; ++i) {
        const double x = 25 + 0.012 * i;
        double y = 20 + 0.2 * std::sin(1.7 * i * i);
        for (const int square : {3, 8, 11})
            y += 300 * std::exp(-4 * std::log(2) * std::pow((x - place(square)) / 0.2, 2));
        text += fmt::format("{:.4f},{:.4f}\n", x, y);
    }
    const std::string file = write("powder.csv", text);
    const Ran r = run("peaks " + file +
                      " --x two_theta --y counts --baseline constant --json --lattice "
                      "\"system=cubic zero=displacement indices=1:111,2:220,3:311\"");
    ASSERT_LE(r.status, 1) << r.err;
    const json d = r.document();
    EXPECT_NEAR(d["lattice"]["a"]["value"], 5.4, 2e-4);
    EXPECT_NEAR(d["lattice"]["displacement"]["value"], 1e-3, 5e-5);
    EXPECT_NEAR(d["peaks"][1]["difference"], 0, 0.01);
    const Ran s = run("peaks " + file +
                      " --x two_theta --y counts --baseline constant --json --separation \"dead-time=10\"");
    ASSERT_LE(s.status, 1) << s.err;
    const json p = s.document()["peaks"][0];
    EXPECT_NEAR(p["plates"]["value"], 5.54 * std::pow(place(3) / 0.2, 2), 2000);
    EXPECT_NEAR(p["retention_factor"]["value"], place(3) / 10 - 1, 1e-3);
    EXPECT_NEAR(p["tailing"]["value"], 1, 1e-6);
    EXPECT_NEAR(p["resolution"]["value"], 1.18 * (place(8) - place(3)) / 0.4, 1);
    EXPECT_NEAR(p["corrected_share"]["value"], 100.0 / 3, 0.5);
    EXPECT_EQ(run("peaks " + file + " --x two_theta --y counts --lattice nonsense").status, 2);
}
