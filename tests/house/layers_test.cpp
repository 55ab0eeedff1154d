#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <string>

namespace {

// Headers that each layer may include. `weapon` and `scene` do not know each other; a layer that is not
// listed is open to all.
const std::map<std::string, std::set<std::string>> allowed{
    {"core", {}},
    {"arsenal", {"core"}},
    {"weapon", {"core", "arsenal"}},
    {"scene", {"core", "arsenal"}},
    {"ballistics", {"core", "arsenal", "weapon", "scene"}},
    {"vitals", {"core", "arsenal", "weapon"}},
    {"skirmish", {"core", "arsenal", "weapon", "scene", "ballistics", "vitals"}},
    {"data", {"core", "arsenal", "weapon", "scene", "ballistics", "vitals", "skirmish"}},
    {"net", {"core", "arsenal", "weapon", "scene", "ballistics", "vitals", "skirmish", "data"}},
    {"tuning", {"core", "arsenal", "weapon", "scene", "ballistics", "vitals", "skirmish", "data"}},
};

// The core has no files, threads, clocks or printing.
const std::set<std::string> core_layers{"core",       "arsenal", "weapon",  "scene",
                                        "ballistics", "vitals",  "skirmish"};
const std::set<std::string> outside{"iostream",   "fstream", "cstdio",   "ctime",  "thread", "mutex",
                                    "filesystem", "fmt",     "nlohmann", "toml++", "spdlog"};

// The header that a line includes in angle brackets; empty when it includes none.
std::string included(const std::string& line) {
    const std::string start = "#include <";
    return line.starts_with(start) ? line.substr(start.size(), line.find('>') - start.size()) : "";
}

TEST(Layers, IncludeOnlyWhatStandsBelowThem) {
    int files = 0;
    for (const auto& [layer, below] : allowed) {
        for (const std::string root : {"include/avrek/", "src/"}) {
            for (const auto& entry :
                 std::filesystem::recursive_directory_iterator{AVREK_SOURCE_DIR "/" + root + layer}) {
                ++files;
                std::ifstream file{entry.path()};
                std::size_t lines = 0;
                for (std::string line; std::getline(file, line); ++lines) {
                    const std::string header = included(line);
                    if (header.starts_with("avrek/")) {
                        const std::string other = header.substr(6, header.find('/', 6) - 6);
                        EXPECT_TRUE(other == layer || below.contains(other))
                            << entry.path() << " includes " << header;
                    } else if (core_layers.contains(layer)) {
                        EXPECT_FALSE(outside.contains(header.substr(0, header.find('/'))))
                            << entry.path() << " includes " << header;
                    }
                }
                EXPECT_LE(lines, 500U) << entry.path();
            }
        }
    }
    EXPECT_GT(files, 40);
}

TEST(Layers, KeepTheirPrivateNamesInDetail) {
    int types = 0;
    for (const auto& entry : std::filesystem::recursive_directory_iterator{AVREK_SOURCE_DIR "/src"}) {
        if (entry.path().extension() != ".h") {
            continue;
        }
        std::ifstream file{entry.path()};
        std::string room;
        for (std::string line; std::getline(file, line);) {
            room = line.starts_with("namespace avrek") ? line : room;
            const bool declares =
                line.starts_with("struct ") || line.starts_with("class ") || line.starts_with("enum ");
            types += declares ? 1 : 0;
            // A header without a namespace is included inside of one.
            EXPECT_TRUE(!declares || room.empty() || room.starts_with("namespace avrek::detail") ||
                        line.find("::Impl") != std::string::npos)
                << entry.path() << " has a name that games see: " << line;
        }
    }
    EXPECT_GT(types, 100);
}

} // namespace
