// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/artwork.h"

#include "base/files.h"
#include "base/isolated.h"
#include "base/program.h"
#include "base/text.h"
#include "draw/artwork.h"
#include "draw/png.h"
#include "figure/artwork.h"

#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <set>

namespace jointer {

namespace {

using draw::FileKind;

constexpr std::size_t kLargestFile = std::size_t{256} << 20;
constexpr double kPictureDpi = 600, kPicturePixels = 4e7;
constexpr double kSheet = 210 * 297; // mm², of what is too much to be read

const char* typeOf(FileKind kind) {
    switch (kind) {
    case FileKind::Png:
        return "image/png";
    case FileKind::Jpeg:
        return "image/jpeg";
    case FileKind::Tiff:
        return "image/tiff";
    case FileKind::Svg:
        return "image/svg+xml";
    case FileKind::Pdf:
        return "application/pdf";
    default:
        return "";
    }
}

class Taking {
public:
    Taking(std::string bytes, const std::string& name, const Cancellation& stop,
           std::chrono::milliseconds limit)
        : bytes_(std::make_shared<const std::string>(std::move(bytes))), name_(name), stop_(stop),
          limit_(limit), kind_(draw::kindOfFile(*bytes_)) {}

    Result<Asset> run() {
        if (bytes_->empty()) return wrong("artwork-kind", "is empty.");
        if (bytes_->size() > kLargestFile)
            return wrong("artwork-size", fmt::format("is larger than {} MB, the most that can be placed.",
                                                     kLargestFile >> 20));
        if (kind_ == FileKind::Eps)
            return wrong("artwork-kind",
                         "is PostScript; save it as PDF or SVG in the program it comes from.");
        if (kind_ == FileKind::Unknown)
            return wrong("artwork-kind",
                         "is no drawing or picture that can be placed: SVG, PDF, PNG, JPEG or TIFF.");
        Asset made{.id = {}, .name = name_, .type = typeOf(kind_), .bytes = bytes_};
        if (kind_ == FileKind::Svg || kind_ == FileKind::Pdf) {
            if (auto done = convert(made); !done) return std::unexpected(done.error());
        } else if (auto done = check(made); !done)
            return std::unexpected(done.error());
        return made;
    }

private:
    std::unexpected<Issue> wrong(const char* code, const std::string& said) const {
        return failure(code, fmt::format("“{}” {}", name_, said), {.file = name_});
    }
    // Sentences of what was asked, with the name of the file.
    std::unexpected<Issue> failed(const Issue& from) const {
        if (from.code == "stopped") return std::unexpected(from);
        if (from.code == "child-too-slow" || from.code == "program-too-slow")
            return wrong("artwork", fmt::format("took longer than {} s to read and is not placed.",
                                                limit_.count() / 1000));
        if (from.code == "child-crashed") return wrong("artwork", "is damaged: reading it failed.");
        return wrong("artwork", "cannot be placed. " + from.text);
    }

    // Pictures are read once by a process of their own, which may come to grief.
    Result<void> check(Asset& made) {
        const bool tiff = kind_ == FileKind::Tiff;
        const auto told = inChildProcess(
            [&]() -> std::string {
                const auto read = draw::bitmapOf(*bytes_);
                if (!read) return "!" + read.error().text;
                return tiff ? draw::pngOf({.bounds = {},
                                           .columns = read->columns,
                                           .rows = read->rows,
                                           .pixels = read->pixels},
                                          read->dpi)
                            : "+";
            },
            limit_, stop_);
        if (!told) return failed(told.error());
        if (told->starts_with("!")) return failed({"picture", told->substr(1), {}});
        if (tiff) made.drawing = std::make_shared<const std::string>(std::move(*told));
        return {};
    }

    Result<void> convert(Asset& made) {
        const bool svg = kind_ == FileKind::Svg;
        const TemporaryFolder folder;
        if (folder.path().empty())
            return wrong("artwork", "cannot be placed: there is no folder for temporary files.");
        const std::string in = svg ? "in.svg" : "in.pdf";
        if (!(std::ofstream(folder.path() / in, std::ios::binary) << *bytes_))
            return wrong("artwork", "cannot be placed: there is no room for temporary files.");
        const auto run = [&](const char* program, std::vector<std::string> words) {
            return runProgram(program, words, folder.path(), {.time = limit_}, stop_);
        };
        const auto lines =
            svg ? run("rsvg-convert", {"--format=svg", "--output=out.svg", in})
                : run("pdftocairo", {"-svg", "-noshrink", "-nocenter", "-f", "1", "-l", "1", in, "out.svg"});
        if (!lines) return failed(lines.error());
        auto drawing = readFile((folder.path() / "out.svg").string());
        if (!drawing) return wrong("artwork", "cannot be placed: nothing came of it.");
        const auto read = draw::artworkOf(*drawing);
        const bool asLines = read && read->lost.empty();
        const double area = read ? read->widthMm * read->heightMm : kSheet;
        if (!read && read.error().code != "too-much") return failed(read.error());
        if (read && read->items.empty()) made.note = "It shows nothing.";
        if (asLines)
            made.drawing = std::make_shared<const std::string>(std::move(*drawing));
        else if (auto picture = asPicture(svg, run, folder.path(), in, area); picture) {
            made.drawing = std::make_shared<const std::string>(std::move(*picture));
            made.note = fmt::format("It has {}, so it is kept as a picture of {:.0f} dpi.",
                                    read ? read->lost : "too many lines", dpi_);
        } else if (read) {
            made.drawing = std::make_shared<const std::string>(std::move(*drawing));
            made.note = fmt::format("Its {} are left out.", read->lost);
        } else
            return failed(picture.error());
        if (const std::string links = svg ? linkedFiles() : ""; !links.empty())
            made.note += (made.note.empty() ? "" : " ") +
                         fmt::format("Files that it links to are not in it: {}.", links);
        return {};
    }

    // The whole as pixels, as fine as print needs, or as many as can be kept.
    Result<std::string> asPicture(bool svg, const auto& run, const std::filesystem::path& folder,
                                  const std::string& in, double areaMm2) {
        dpi_ = std::min(kPictureDpi, std::sqrt(kPicturePixels / areaMm2) * 25.4);
        const auto done = svg ? run("rsvg-convert", {"--format=png", fmt::format("--zoom={:.6f}", dpi_ / 96),
                                                     "--output=out.png", in})
                              : run("pdftocairo", {"-png", "-transp", "-singlefile", "-cropbox", "-r",
                                                   fmt::format("{:.3f}", dpi_), in, "out"});
        if (!done) return std::unexpected(done.error());
        const auto bytes = readFile((folder / "out.png").string());
        if (!bytes) return failure("picture", "No picture came of it.");
        const auto read = draw::bitmapOf(*bytes);
        if (!read) return std::unexpected(read.error());
        return draw::pngOf(
            {.bounds = {}, .columns = read->columns, .rows = read->rows, .pixels = read->pixels}, dpi_);
    }

    // Names of files and addresses that pictures within an SVG are taken from.
    std::string linkedFiles() const {
        std::set<std::string> names;
        const std::string_view text = *bytes_;
        for (std::size_t at = text.find("href="); at != text.npos; at = text.find("href=", at + 5)) {
            if (at + 6 >= text.size()) break;
            const std::size_t end = text.find(text[at + 5], at + 6), open = text.rfind('<', at);
            if (end == text.npos || open == text.npos) continue;
            const std::string_view target = text.substr(at + 6, end - at - 6),
                                   tag = text.substr(open + 1, at - open);
            const bool shown = tag.starts_with("image") || tag.starts_with("use") ||
                               tag.starts_with("feImage") || tag.starts_with("svg:image") ||
                               tag.starts_with("svg:use");
            if (shown && !target.empty() && !target.starts_with("#") && !target.starts_with("data:"))
                names.insert(validUtf8(std::string(target.substr(0, 80))));
        }
        return joined(std::vector<std::string>(names.begin(), names.end()), ", ");
    }

    std::shared_ptr<const std::string> bytes_;
    const std::string& name_;
    const Cancellation& stop_;
    std::chrono::milliseconds limit_; // for each program
    FileKind kind_;
    double dpi_ = kPictureDpi;
};

} // namespace

Result<Asset> takenArtwork(std::string bytes, const std::string& name, const Cancellation& stop,
                           std::chrono::milliseconds limit) {
    return Taking(std::move(bytes), name, stop, limit).run();
}

Result<Asset> artworkFromFile(const std::string& path, const Cancellation& stop) {
    const std::string name = std::filesystem::path(path).filename().string();
    std::error_code error;
    if (const auto size = std::filesystem::file_size(path, error); !error && size > kLargestFile)
        return failure(
            "artwork-size",
            fmt::format("“{}” is larger than {} MB, the most that can be placed.", name, kLargestFile >> 20),
            {.file = path});
    auto bytes = readFile(path);
    if (!bytes) return std::unexpected(bytes.error());
    return takenArtwork(std::move(*bytes), name, stop);
}

std::string describedArtwork(const Asset& asset) {
    static constexpr std::pair<std::string_view, const char*> names[] = {{"image/svg+xml", "SVG"},
                                                                         {"application/pdf", "PDF"},
                                                                         {"image/png", "PNG"},
                                                                         {"image/jpeg", "JPEG"},
                                                                         {"image/tiff", "TIFF"}};
    std::string out = "Artwork";
    for (const auto& [type, name] : names)
        if (asset.type == type) out = name;
    const auto read = figure::drawnArtwork(asset);
    if (!read->has_value()) return out + ", damaged";
    if (const auto* picture =
            (*read)->isPicture ? std::get_if<draw::Picture>(&(*read)->items[0].what) : nullptr)
        return out + fmt::format(", {} × {} pixels", picture->columns, picture->rows);
    return out + fmt::format(", lines, {:.0f} × {:.0f} mm", (*read)->widthMm, (*read)->heightMm);
}

bool hasArtworkEnding(std::string_view path) {
    const std::size_t dot = path.rfind('.');
    if (dot == path.npos) return false;
    const std::string ending = lowerAscii(path.substr(dot + 1));
    return std::ranges::any_of(split(kArtworkEndings, ' '), [&](std::string_view e) { return e == ending; });
}

} // namespace jointer
