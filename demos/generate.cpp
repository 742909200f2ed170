// SPDX-License-Identifier: GPL-3.0-or-later
// Writes the demo's raw files and project into a folder: jointer-demo-data FOLDER
#include "answers.h"
#include "doubts.h"
#include "fields.h"
#include "figures.h"
#include "forty_shells.h"
#include "pages.h"
#include "scattering.h"
#include "tern_sands.h"

#include "base/files.h"
#include "evaluate/evaluator.h"
#include "project/project_file.h"

#include <iostream>

int main(int argc, char** argv) {
    using namespace jointer;
    const std::filesystem::path folder = argc > 1 ? argv[1] : "demos";
    std::filesystem::create_directories(folder / "raw");
    for (const auto& files : {demo::rawFiles(), demo::figureFiles(), demo::doubtFiles(), demo::answerFiles(),
                              demo::fieldFiles(), demo::scatteringFiles()})
        for (const auto& [name, text] : files)
            if (const auto done = replaceFile(folder / "raw" / name, text); !done)
                return std::cerr << done.error().sentence() << '\n', 5;
    std::filesystem::create_directories(folder / "raw" / "forty_shells");
    for (const auto& [name, text] : demo::fortyShellFiles())
        if (const auto done = replaceFile(folder / "raw" / "forty_shells" / name, text); !done)
            return std::cerr << done.error().sentence() << '\n', 5;
    for (const auto& [name, project] :
         {std::pair("tern_sands", demo::ternSands()), std::pair("twelve_figures", demo::figureDemo()),
          std::pair("forty_shells", demo::fortyShells()), std::pair("doubts", demo::doubtDemo()),
          std::pair("answers", demo::answersDemo()), std::pair("pages", demo::pagesDemo()),
          std::pair("fields", demo::fieldsDemo()), std::pair("scattering", demo::scatteringDemo())}) {
        evaluate::Evaluator evaluator;
        for (const auto& a : project.analyses) (void)evaluator.analysis(project, *a);
        const std::string path = (folder / (std::string(name) + ".jointer")).string();
        if (const auto done = saveProject(project, {evaluator.collect(project), {}}, path); !done)
            return std::cerr << done.error().sentence() << '\n', 5;
    }
    std::cout << "Wrote the demo to " << folder.string() << ".\n";
}
