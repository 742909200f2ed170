// SPDX-License-Identifier: GPL-3.0-or-later
// Open formats by files built here from their definitions: what each byte says is known beforehand.
#include "base/text.h"
#include "base/zip.h"
#include "io/reader.h"

#include <bit>
#include <cmath>
#include <cstring>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::io;
using testing::Contains;
using testing::ElementsAre;
using testing::ElementsAreArray;
using testing::HasSubstr;
using testing::Pair;

namespace {

ReadResult readAs(const std::string& bytes, const std::string& name, const std::string& format) {
    auto r = io::read(bytes, name, {});
    EXPECT_TRUE(r) << (r ? "" : r.error().text);
    if (!r) return {};
    EXPECT_EQ(r->format, format);
    EXPECT_FALSE(r->tables.empty());
    return std::move(*r);
}

std::span<const double> columnOf(const ReadResult& r, std::size_t column, std::size_t table = 0) {
    return r.tables.at(table).table.columns.at(column).numbers();
}

// ---- JCAMP-DX: R. S. McDonald, P. A. Wilks, Appl. Spectrosc. 42 (1988) 151 -------------------------------

std::string jcamp(const std::string& data, int points = 10, const std::string& more = "") {
    return "##TITLE=pond\r\n##JCAMP-DX=4.24\r\n##DATA TYPE=INFRARED SPECTRUM\r\n##XUNITS=1/CM\r\n"
           "##YUNITS=ABSORBANCE\r\n##XFACTOR=1\r\n##YFACTOR=1\r\n##FIRSTX=0\r\n##LASTX=" +
           std::to_string(points - 1) + "\r\n##NPOINTS=" + std::to_string(points) + "\r\n" + more +
           "##XYDATA=(X++(Y..Y))\r\n" + data + "\r\n##END=\r\n";
}

} // namespace

TEST(JcampDx, AllFormsGiveTheSameOrdinates) {
    for (const char* data : {"0 1 2 3 3 2 1 0 -1 -2 -3", "0+1+2+3+3+2+1+0-1-2-3", "0ABCCBA@abc",
                             "0AJJ%jjjjjj", "0AJT%jX", "0 1 2 3 3 2\r\n5 1 0 -1 -2 -3"}) {
        const auto r = readAs(jcamp(data), "p.jdx", "jcamp-dx");
        EXPECT_THAT(columnOf(r, 0), ElementsAre(0, 1, 2, 3, 4, 5, 6, 7, 8, 9)) << data;
        EXPECT_THAT(columnOf(r, 1), ElementsAre(1, 2, 3, 3, 2, 1, 0, -1, -2, -3)) << data;
    }
}

TEST(JcampDx, DifferencesGoOnFromTheCheckOrdinate) {
    // The second line begins with the last ordinate of the first, which is checked and not taken twice.
    const auto good = readAs(jcamp("0AJJ%j\r\n4Bjjjjj", 10), "p.jdx", "jcamp-dx");
    EXPECT_THAT(columnOf(good, 1), ElementsAre(1, 2, 3, 3, 2, 1, 0, -1, -2, -3));
    EXPECT_TRUE(good.issues.empty());
    const auto bad = io::read(jcamp("0AJJ%j\r\n4Cjjjjj", 10), "p.jdx", {});
    ASSERT_TRUE(bad);
    std::vector<std::string> codes;
    for (const Issue& i : bad->issues) codes.push_back(i.code);
    EXPECT_THAT(codes, Contains("checksum"));
}

TEST(JcampDx, NumbersOfSeveralFiguresAndFactors) {
    const auto r = readAs(jcamp("0A23J0j5", 3), "p.jdx", "jcamp-dx"); // 123, +10, −15
    EXPECT_THAT(columnOf(r, 1), ElementsAre(123, 133, 118));
    std::string scaled = jcamp("0 10 20 30", 3);
    scaled.replace(scaled.find("##YFACTOR=1"), 11, "##YFACTOR=0.5");
    EXPECT_THAT(columnOf(readAs(scaled, "p.jdx", "jcamp-dx"), 1), ElementsAre(5, 10, 15));
    EXPECT_THAT(readAs(jcamp("0 1 2 3", 3), "p.jdx", "jcamp-dx").metadata, Contains(Pair("TITLE", "pond")));
}

TEST(JcampDx, PairsOfXAndY) {
    const std::string text = "##TITLE=pairs\n##JCAMP-DX=4.24\n##XUNITS=SECONDS\n##YUNITS=VOLTS\n##NPOINTS=3\n"
                             "##XYPOINTS=(XY..XY)\n1.5,10; 2.5,20\n4,-5\n##END=\n";
    const auto r = readAs(text, "p.dx", "jcamp-dx");
    EXPECT_THAT(columnOf(r, 0), ElementsAre(1.5, 2.5, 4));
    EXPECT_THAT(columnOf(r, 1), ElementsAre(10, 20, -5));
}

// ---- NPY: the format of version 1.0 -----------------------------------------------------------------------

namespace {

template <class T>
std::string npy(const std::string& type, const std::string& shape, const std::vector<T>& values,
                bool columnsFirst = false) {
    std::string header = "{'descr': '" + type + "', 'fortran_order': " + (columnsFirst ? "True" : "False") +
                         ", 'shape': " + shape + ", }";
    header.resize((10 + header.size() + 64) / 64 * 64 - 11, ' ');
    header += '\n';
    std::string out("\x93NUMPY\x01\x00", 8);
    out += static_cast<char>(header.size() & 255);
    out += static_cast<char>(header.size() >> 8);
    out += header;
    for (T v : values) out.append(reinterpret_cast<const char*>(&v), sizeof v);
    return out;
}

} // namespace

TEST(Npy, TypesAndOrders) {
    EXPECT_THAT(columnOf(readAs(npy<double>("<f8", "(3,)", {1.5, -2, 1e300}), "a.npy", "npy"), 0),
                ElementsAre(1.5, -2, 1e300));
    EXPECT_THAT(columnOf(readAs(npy<float>("<f4", "(2,)", {0.5F, 3}), "a.npy", "npy"), 0),
                ElementsAre(0.5, 3));
    EXPECT_THAT(columnOf(readAs(npy<std::int16_t>("<i2", "(2,)", {-7, 300}), "a.npy", "npy"), 0),
                ElementsAre(-7, 300));
    EXPECT_THAT(columnOf(readAs(npy<std::uint8_t>("|u1", "(2,)", {255, 0}), "a.npy", "npy"), 0),
                ElementsAre(255, 0));
    const auto rows = readAs(npy<double>("<f8", "(2, 3)", {1, 2, 3, 4, 5, 6}), "a.npy", "npy");
    EXPECT_THAT(columnOf(rows, 0), ElementsAre(1, 4));
    EXPECT_THAT(columnOf(rows, 2), ElementsAre(3, 6));
    const auto columns = readAs(npy<double>("<f8", "(2, 3)", {1, 2, 3, 4, 5, 6}, true), "a.npy", "npy");
    EXPECT_THAT(columnOf(columns, 0), ElementsAre(1, 2));
    EXPECT_THAT(columnOf(columns, 2), ElementsAre(5, 6));
}

TEST(Npy, BigEndianAndDamagedFiles) {
    double value = 2.5;
    std::uint64_t bits = std::bit_cast<std::uint64_t>(value);
    std::uint64_t swapped = 0;
    for (int i = 0; i < 8; ++i) swapped = swapped << 8 | (bits >> (8 * i) & 255);
    EXPECT_THAT(columnOf(readAs(npy<std::uint64_t>(">f8", "(1,)", {swapped}), "a.npy", "npy"), 0),
                ElementsAre(2.5));
    std::string cut = npy<double>("<f8", "(1000000000,)", {1});
    const auto r = io::read(cut, "a.npy", {});
    if (r)
        EXPECT_LE(r->tables[0].table.rowCount(), 1U) << "no memory is taken for what is not there";
    else
        EXPECT_FALSE(r.error().text.empty());
}

// ---- powder CIF and xye -----------------------------------------------------------------------------------

TEST(PowderCif, NumbersWithTheirUncertaintiesAndSteps) {
    const std::string text =
        "data_pond\n_diffrn_radiation_wavelength 1.5406\n_pd_meas_2theta_range_min 10\n"
        "_pd_meas_2theta_range_inc 0.5\n_pd_meas_2theta_range_max 11\n"
        "loop_\n_pd_meas_counts_total\n_pd_calc_intensity_total\n100 99.5\n120(11) 118\n? 7\n";
    const auto r = readAs(text, "p.cif", "pdcif");
    const Table& t = r.tables[0].table;
    std::map<std::string, std::vector<double>> byName;
    for (const Column& c : t.columns) byName[c.name].assign(c.numbers().begin(), c.numbers().end());
    bool angles = false, counts = false, errors = false;
    for (const auto& [name, values] : byName) {
        if (values.size() != 3) continue;
        angles |= values == std::vector<double>{10, 10.5, 11};
        counts |= values[0] == 100 && values[1] == 120 && std::isnan(values[2]);
        errors |= values[1] == 11;
    }
    EXPECT_TRUE(angles) << "made from the range";
    EXPECT_TRUE(counts);
    EXPECT_TRUE(errors) << "120(11) is 120 ± 11";
}

TEST(PowderCif, UncertaintiesBeforeAnExponent) {
    const auto r = readAs("data_pond\nloop_\n_pd_meas_2theta_scan\n_pd_meas_intensity_total\n"
                          "10 1.234(5)e-3\n11 2.5(2)E+02\n12 3.5\n",
                          "p.cif", "pdcif");
    const Table& t = r.tables[0].table;
    ASSERT_EQ(t.columns.size(), 3U);
    EXPECT_THAT(columnOf(r, 1), ElementsAre(1.234e-3, 250, 3.5));
    EXPECT_NEAR(t.columns[2].numbers()[0], 5e-6, 1e-18);
    EXPECT_NEAR(t.columns[2].numbers()[1], 20, 1e-12);
}

// Cells as writers of the standard may form them: a text only in its attribute, in a heading or a list, a
// number only as it is shown.
TEST(Ods, CellsInRarerForms) {
    const std::string body =
        "<table:table-row><table:table-cell "
        "office:value-type='string'><text:p>Name</text:p></table:table-cell>"
        "<table:table-cell "
        "office:value-type='string'><text:p>Mass</text:p></table:table-cell></table:table-row>"
        "<table:table-row><table:table-cell office:value-type='string' office:string-value='A1'/>"
        "<table:table-cell "
        "office:value-type='float'><text:p>1.5</text:p></table:table-cell></table:table-row>"
        "<table:table-row><table:table-cell office:value-type='string'><text:h>A2</text:h></table:table-cell>"
        "<table:table-cell office:value-type='float' office:value='2.5'/></table:table-row>"
        "<table:table-row><table:table-cell office:value-type='string'><text:list><text:list-item><text:p>A"
        "<text:span>3</text:span></text:p></text:list-item></text:list></table:table-cell>"
        "<table:table-cell office:value-type='float' office:value='3.5'/></table:table-row>";
    const std::string content =
        "<office:document-content><office:body><office:spreadsheet><table:table table:name='S'>" + body +
        "</table:table></office:spreadsheet></office:body></office:document-content>";
    ZipWriter zip;
    zip.add("mimetype", "application/vnd.oasis.opendocument.spreadsheet", false);
    zip.add("content.xml", content, true);
    const auto r = readAs(*zip.bytes(), "a.ods", "ods");
    const Table& t = r.tables[0].table;
    EXPECT_THAT(t.columns[0].cells->texts, ElementsAre("A1", "A2", "A3"));
    EXPECT_THAT(columnOf(r, 1), ElementsAre(1.5, 2.5, 3.5));
}

TEST(Xye, ThreeColumnsAreAngleCountsAndError) {
    const auto r = io::read("10.0 100 10\n10.5 121 11\n11.0 144 12\n", "scan.xye", {});
    ASSERT_TRUE(r);
    EXPECT_EQ(r->format, "xye");
    EXPECT_EQ(r->tables[0].table.columns[2].role, Role::YError);
    EXPECT_THAT(columnOf(*r, 1), ElementsAre(100, 121, 144));
}

// ---- canSAS 1D XML ----------------------------------------------------------------------------------------

TEST(CanSas, IntensitiesWithUnitsAndResolution) {
    const std::string text =
        "<?xml version=\"1.0\"?><SASroot version=\"1.1\" "
        "xmlns=\"urn:cansas1d:1.1\"><SASentry><Title>droplets</Title>"
        "<Run>7</Run><SASdata><Idata><Q unit=\"1/A\">0.01</Q><I unit=\"1/cm\">5</I><Idev "
        "unit=\"1/cm\">0.5</Idev>"
        "<Qdev unit=\"1/A\">0.001</Qdev></Idata><Idata><Q unit=\"1/A\">0.02</Q><I unit=\"1/cm\">4</I>"
        "<Idev unit=\"1/cm\">0.4</Idev><Qdev "
        "unit=\"1/A\">0.002</Qdev></Idata></SASdata></SASentry></SASroot>";
    const auto r = readAs(text, "d.xml", "cansas1d");
    const Table& t = r.tables[0].table;
    ASSERT_EQ(t.columns.size(), 4U);
    EXPECT_THAT(columnOf(r, 0), ElementsAre(0.01, 0.02));
    EXPECT_EQ(t.columns[0].role, Role::X);
    EXPECT_EQ(t.columns[0].unit, "1/A");
    std::vector<Role> roles;
    for (const Column& c : t.columns) roles.push_back(c.role);
    EXPECT_THAT(roles, Contains(Role::YError));
    EXPECT_THAT(roles, testing::AnyOf(Contains(Role::Resolution), Contains(Role::XError)));
}

// ---- JSON -------------------------------------------------------------------------------------------------

TEST(JsonTables, ByRowsColumnsAndObjects) {
    for (const char* text : {R"([{"x":1,"y":2.5},{"x":2,"y":null}])", R"({"x":[1,2],"y":[2.5,null]})",
                             R"([["x","y"],[1,2.5],[2,null]])"}) {
        const auto r = readAs(text, "t.json", "json");
        EXPECT_THAT(columnOf(r, 0), ElementsAre(1, 2)) << text;
        EXPECT_EQ(columnOf(r, 1)[0], 2.5) << text;
        EXPECT_TRUE(std::isnan(columnOf(r, 1)[1])) << text;
    }
    EXPECT_FALSE(io::read(R"({"x":[1,2)", "t.json", {}));
}

namespace {

std::string hex(const char* digits) {
    std::string out;
    for (std::size_t i = 0; digits[i] && digits[i + 1]; i += 2)
        out += static_cast<char>(std::stoi(std::string(digits + i, 2), nullptr, 16));
    return out;
}

} // namespace

// Packed by the usual programs; inside: "t,v\n0,1\n1,2\n".
TEST(Packed, FilesAreReadAsWhatIsInside) {
    const std::pair<const char*, const char*> files[] = {
        {"pond.csv.gz", "1f8b08000000000002032bd129e332d031e432d431e20200a64f45c20c000000"},
        {"pond.csv.bz2",
         "425a68393141592653596f984d62000005588000100004700005002000221ea1b508601e93188078bb9229c284"
         "837cc26b10"},
        {"pond.csv.xz",
         "fd377a585a000004e6d6b4460200210116000000742fe5a301000b742c760a302c310a312c320a00de36b68464"
         "eff5630001240ca618d8d81fb6f37d010000000004595a"},
        {"pond.csv.zst", "28b52ffd240c610000742c760a302c310a312c320a460e1bf1"},
        {"pond.zip",
         "504b030414000000000000002100a64f45c20c0000000c00000008000000706f6e642e637376742c760a302c31"
         "0a312c320a504b0102140314000000000000002100a64f45c20c0000000c000000080000000000000000000000"
         "800100000000706f6e642e637376504b0506000000000100010036000000320000000000"}};
    for (const auto& [name, digits] : files) {
        const auto r = read(hex(digits), name, {});
        ASSERT_TRUE(r) << name << ": " << r.error().text;
        EXPECT_EQ(r->format, "delimited");
        ASSERT_EQ(r->tables[0].table.columns.size(), 2U) << name;
        EXPECT_EQ(r->tables[0].table.name, "pond") << name;
        EXPECT_EQ(r->tables[0].table.columns[1].numbers()[1], 2) << name;
        // Cut anywhere it is refused in words, or read as far as the archive vouches for it.
        for (std::size_t cut = 4; cut + 1 < std::string(digits).size() / 2; cut += 7) {
            const auto part = read(hex(digits).substr(0, cut), name, {});
            EXPECT_TRUE(part || !part.error().text.empty());
        }
    }
}

TEST(Text, ThatIsNotUtf8NeverGetsFurther) {
    Settings told;
    told.set("encoding", "utf-8");
    const auto r = read("na\xEFme,v\n\xFF\xFE t,1\nb,2\n", "odd.csv", told);
    ASSERT_TRUE(r);
    for (const Column& c : r->tables[0].table.columns) {
        EXPECT_TRUE(isUtf8(c.name));
        for (const std::string& text : c.cells->texts) EXPECT_TRUE(isUtf8(text));
    }
    EXPECT_TRUE(std::ranges::any_of(r->issues, [](const Issue& i) { return i.code == "not-utf-8"; }));
}

namespace {

template <class T> std::string bytesOf(std::initializer_list<T> values) {
    std::string out;
    for (T v : values) out.append(reinterpret_cast<const char*>(&v), sizeof v);
    return out;
}

std::string mat4Matrix(const std::string& name, std::int32_t rows, std::int32_t columns,
                       const std::string& data) {
    return bytesOf<std::int32_t>({0, rows, columns, 0, static_cast<std::int32_t>(name.size() + 1)}) + name +
           std::string(1, '\0') + data;
}

std::string npyVector(const std::string& data, std::size_t n) {
    std::string header = "{'descr': '<f8', 'fortran_order': False, 'shape': (" + std::to_string(n) + ",), }";
    header.resize(117, ' ');
    header += '\n';
    std::string out = "\x93NUMPY";
    out += std::string("\x01\x00", 2);
    out += bytesOf<std::uint16_t>({static_cast<std::uint16_t>(header.size())});
    return out + header + data;
}

} // namespace

// Built from the published description of version 4: little-endian doubles, column after column.
TEST(Mat4, VectorsOfOneLengthAreColumnsAndMatricesTables) {
    const std::string file = mat4Matrix("t", 3, 1, bytesOf<double>({0, 1, 2})) +
                             mat4Matrix("v", 3, 1, bytesOf<double>({5, 6, 7})) +
                             mat4Matrix("M", 2, 2, bytesOf<double>({1, 2, 3, 4}));
    const auto r = read(file, "b.mat", {});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->format, "mat4");
    ASSERT_EQ(r->tables.size(), 2U);
    EXPECT_EQ(r->tables[0].table.columns[1].name, "v");
    EXPECT_EQ(r->tables[0].table.columns[1].numbers()[2], 7);
    EXPECT_EQ(r->tables[1].table.columns[1].numbers()[0], 3);
    for (std::size_t cut = 1; cut < file.size(); ++cut) (void)read(file.substr(0, cut), "b.mat", {});
}

TEST(Npz, ArraysOfOneLengthAreColumns) {
    ZipWriter zip;
    const std::string t = npyVector(bytesOf<double>({0, 1, 2}), 3),
                      v = npyVector(bytesOf<double>({5, 6, 7}), 3);
    zip.add("t.npy", t, false);
    zip.add("v.npy", v, true);
    const auto r = read(*zip.bytes(), "a.npz", {});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->format, "npz");
    ASSERT_EQ(r->tables.size(), 1U);
    ASSERT_EQ(r->tables[0].table.columns.size(), 2U);
    EXPECT_EQ(r->tables[0].table.columns[1].name, "v");
    EXPECT_EQ(r->tables[0].table.columns[1].numbers()[0], 5);
}

TEST(Xls, ADamagedWorkbookIsRefusedInWords) {
    const auto r = read(hex("D0CF11E0A1B11AE1") + "garbage", "old.xls", {});
    ASSERT_FALSE(r);
    EXPECT_EQ(r.error().code, "xls");
}

TEST(Text, ProseAndProgramsAreHardlyTables) {
    for (const char* text :
         {"The pond was frozen on the day of the visit.\nNobody had expected that much ice.\n"
          "We came back a week later and took the samples then.\nAll went well.\n",
          "int main() {\n    return run(argc, argv);\n}\n\nvoid run(int n, char** v)\n{\n    go(v);\n}\n"}) {
        const auto r = read(text, "notes.txt", {});
        ASSERT_TRUE(r);
        EXPECT_TRUE(std::ranges::any_of(r->issues, [](const Issue& i) { return i.code == "hardly-a-table"; }))
            << text;
    }
    for (const char* text : {"name,site\nmussel,A\noyster,B\nclam,C\n", "mussel\noyster\nclam\n"}) {
        const auto r = read(text, "words.csv", {});
        ASSERT_TRUE(r);
        EXPECT_TRUE(std::ranges::none_of(r->issues, [](const Issue& i) {
            return i.code == "hardly-a-table";
        })) << text;
    }
}
