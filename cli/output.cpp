#include "output.h"

#include "command_line.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <memory>

namespace avrek::cli {

namespace {

WrongCall cannot_write(const std::string& file, int error) {
    return {{fmt::format("error: cannot write {}: {}", file, std::strerror(error))}};
}

// Everything or an errno.
int write_all(std::FILE* file, const std::string& text) {
    errno = 0;
    const bool written = std::fwrite(text.data(), 1, text.size(), file) == text.size();
    return written && std::fflush(file) == 0 ? 0 : (errno != 0 ? errno : EIO);
}

} // namespace

bool has_colour(const OutputOptions& output) {
    const char* no_colour = std::getenv("NO_COLOR");
    return output.file.empty() && isatty(STDOUT_FILENO) == 1 && (no_colour == nullptr || *no_colour == '\0');
}

std::string emphasised(std::string_view text, bool colour) {
    return colour ? fmt::format("\x1b[1m{}\x1b[0m", text) : std::string{text};
}

void write_result(const std::string& text, const OutputOptions& output) {
    if (output.file.empty()) {
        if (const int error = write_all(stdout, text); error != 0) {
            throw cannot_write("the result", error);
        }
        return;
    }
    if (std::filesystem::exists(output.file) && !std::filesystem::is_regular_file(output.file)) {
        std::FILE* device =
            std::fopen(output.file.c_str(), "w"); // a pipe or /dev/full: there is nothing to replace
        const int error = device == nullptr ? errno : write_all(device, text);
        if (device != nullptr) {
            std::fclose(device);
        }
        if (error != 0) {
            throw cannot_write(output.file, error);
        }
        return;
    }
    const std::string part = fmt::format("{}.{}.part", output.file, getpid());
    std::FILE* file = std::fopen(part.c_str(), "w");
    if (file == nullptr) {
        throw cannot_write(output.file, errno);
    }
    const int error = write_all(file, text);
    const int close_error = std::fclose(file) == 0 ? 0 : errno;
    if (error != 0 || close_error != 0) {
        std::remove(part.c_str());
        throw cannot_write(output.file, error != 0 ? error : close_error);
    }
    replace_file(part, output.file);
}

void replace_file(const std::string& from, const std::string& to) {
    std::error_code error;
    std::filesystem::rename(from, to, error);
    if (error) {
        std::remove(from.c_str());
        throw cannot_write(to, error.value());
    }
}

std::string wrapped(std::string_view text, std::size_t most, std::size_t indent) {
    std::string lines;
    while (!text.empty()) {
        const std::string_view start = lines.empty() ? "" : "\n";
        const std::size_t room = lines.empty() ? most : most - indent;
        std::size_t end = text.size() <= room ? text.size() : text.rfind(' ', room);
        end = end == std::string_view::npos ? room : end;
        lines += fmt::format("{}{:{}}{}", start, "", lines.empty() ? 0 : indent, text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

} // namespace avrek::cli
