// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated instrument: writes made-up spectra of shells into a folder, one after the other and piece by
// piece as real ones do; some are broken.
//   jointer-simulated-scanner FOLDER [--count 40] [--every 2] [--broken 0.05] [--seed 1]
#include "scanned_shells.h"

#include <charconv>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <map>
#include <thread>

namespace fs = std::filesystem;

namespace {

constexpr int kPieces = 4; // of which a file comes

int usage(const std::string& wrong) {
    std::cerr
        << wrong
        << "\njointer-simulated-scanner FOLDER [--count N] [--every SECONDS] [--broken SHARE] [--seed N]\n";
    return 2;
}

} // namespace

int main(int argc, char** argv) {
    std::map<std::string, double> options = {
        {"--count", 40}, {"--every", 2}, {"--broken", 0.05}, {"--seed", 1}};
    std::string folder;
    for (int i = 1; i < argc; ++i) {
        const std::string word = argv[i];
        if (!word.starts_with("--")) {
            folder = word;
            continue;
        }
        const auto option = options.find(word);
        if (option == options.end() || i + 1 == argc) return usage("What is “" + word + "”?");
        const std::string value = argv[++i];
        const auto [end, error] = std::from_chars(value.data(), value.data() + value.size(), option->second);
        if (error != std::errc{} || end != value.data() + value.size() || option->second < 0)
            return usage(word + " takes a number, not “" + value + "”.");
    }
    if (folder.empty()) return usage("Name the folder to write into.");
    std::error_code error;
    fs::create_directories(folder, error);
    const auto seed = static_cast<std::uint64_t>(options["--seed"]);
    const auto pause = std::chrono::duration<double>(options["--every"] / kPieces);
    for (int shell = 1; shell <= static_cast<int>(options["--count"]); ++shell) {
        const auto file = jointer::demo::scannedShell(shell, seed, options["--broken"]);
        std::ofstream out(fs::path(folder) / file.first, std::ios::binary);
        for (int piece = 0; piece < kPieces; ++piece) {
            const std::size_t from = file.second.size() * static_cast<std::size_t>(piece) / kPieces,
                              to = file.second.size() * static_cast<std::size_t>(piece + 1) / kPieces;
            out << file.second.substr(from, to - from) << std::flush;
            if (!out) {
                std::cerr << "Cannot write " << file.first << " into " << folder << ".\n";
                return 5;
            }
            std::this_thread::sleep_for(pause);
        }
        std::cout << file.first << std::endl;
    }
}
