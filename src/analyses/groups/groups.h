// SPDX-License-Identifier: GPL-3.0-or-later
// Groups compared: what the analysis of kind "groups" has found, for its own card and the command line.
#pragma once

#include "analyses/analysis.h"
#include "stats/group_tests.h"
#include "stats/limits.h"
#include "stats/normality.h"
#include "stats/summary.h"

namespace jointer::analyses {

struct GroupSummary {
    std::string name;
    double place = NAN; // on the axis of groups
    stats::Summary numbers;
    double low = NAN, high = NAN; // interval of the mean
    std::pair<double, double> whiskers;
    std::vector<double> outliers;
    stats::Normality normality{NAN, NAN};
    stats::LimitedSummary
        limited{}; // where some lie below a limit: then mean, SD, quartiles and interval come from here
};

struct GroupTest {
    stats::TestResult result;
    std::vector<stats::Assumption> assumptions;
};

struct GroupsDetail : Detail {
    stats::Design design;
    std::vector<GroupSummary> groups;
    std::vector<GroupTest> tests;
    std::string reason;             // why these tests; empty: they were asked for
    std::vector<std::string> notes; // of how values were taken
};

const GroupsDetail* groupsDetail(const AnalysisResult& result); // nullptr: of another kind

enum class BelowLimit {
    Kept,
    Half,
    LeftOut
}; // how values are taken that are only known to lie below a limit

// Values of a dataset of groups (its x are categories) as an experiment has laid them out. Several values of
// one subject in a group are averaged. `notes` tells of that, of values below a limit and of what is left
// out.
stats::Design designOf(const Curve& curve, BelowLimit below, std::vector<std::string>& notes);

// What p says, in words: "A difference this large would come by chance in 2 of 100 such experiments…".
std::string meaningOfP(double p);

const KindInfo& groupsSettings();

} // namespace jointer::analyses
