#pragma once
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>

/// The tool and the examples as processes, in a folder of their own.
namespace avrek {

struct Answer {
    int status = -1;
    std::string out;
    std::string err;
};

inline std::string read_file(const std::string& name) {
    std::ifstream file{name};
    std::stringstream text;
    text << file.rdbuf();
    return text.str();
}

class Tool : public ::testing::Test {
  protected:
    Tool() : folder_(::testing::TempDir() + "avrek-cli-" + std::to_string(getpid())) {
        std::filesystem::create_directories(folder_);
    }
    ~Tool() override { std::filesystem::remove_all(folder_); }

    std::string file(const std::string& name) const { return folder_ + "/" + name; }

    std::string write(const std::string& name, const std::string& text) const {
        std::ofstream{file(name)} << text;
        return file(name);
    }

    Answer shell(const std::string& line) const {
        // In braces: of a line that ends with an & the words go into the folder too.
        const std::string all = "cd " + folder_ + " && { " + line + "\n} > out.txt 2> err.txt";
        const int status = std::system(all.c_str());
        return {WEXITSTATUS(status), read_file(file("out.txt")), read_file(file("err.txt"))};
    }

    Answer run(const std::string& words) const { return shell(AVREK_TOOL " " + words); }

    std::string folder_;
};

inline constexpr const char* tiny = "[weapon.thorn-rifle]\ndamage = 50\n";

} // namespace avrek
