#include "tables.h"
#include <avrek/data/sweep_file.h>

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <limits>
#include <sstream>
#include <string_view>

namespace avrek {

namespace {

constexpr std::string_view end_of_row = ";\n"; // a row without it was being written as the program ended

std::string cell_text(double value) {
    if (std::isnan(value)) {
        return {};
    }
    char text[64];
    const auto [end, error] = std::to_chars(text, text + sizeof text, value);
    return {text, end};
}

// A row of the file of parts: the point, then its numbers.
std::string line_of(std::size_t point, std::span<const double> row) {
    std::string line = std::to_string(point);
    for (const double value : row) {
        line += ',' + cell_text(value);
    }
    return line + std::string{end_of_row};
}

Diagnostic fault_of(const std::filesystem::path& file, std::string message, std::string allowed = {}) {
    return {Severity::error, file.string(), 0, 0, {}, std::move(message), std::move(allowed), {}};
}

} // namespace

struct SweepFile::Writing {
    std::filesystem::path file;
    std::filesystem::path part;
    SweepHead head;
    std::vector<std::vector<double>> rows;
    std::size_t done = 0;
    int descriptor = -1;

    ~Writing() {
        if (descriptor >= 0) {
            close(descriptor);
        }
    }

    bool write_all(std::string_view text) const {
        while (!text.empty()) {
            const ssize_t count = write(descriptor, text.data(), text.size());
            if (count < 0 && errno != EINTR) {
                return false;
            }
            text.remove_prefix(count > 0 ? static_cast<std::size_t>(count) : 0);
        }
        return true;
    }

    // Takes in a row of the file of parts; false when it is none.
    bool take(std::string_view line) {
        std::size_t point = 0;
        const char* end = line.data() + line.size();
        auto [at, error] = std::from_chars(line.data(), end, point);
        if (error != std::errc{} || point >= head.points) {
            return false;
        }
        std::vector<double> row;
        while (at != end && *at == ',') {
            double value = std::numeric_limits<double>::quiet_NaN();
            ++at;
            if (at != end && *at != ',') {
                const auto read = std::from_chars(at, end, value);
                if (read.ec != std::errc{}) {
                    return false;
                }
                at = read.ptr;
            }
            row.push_back(value);
        }
        if (at != end || row.size() != head.columns.size()) {
            return false;
        }
        done += rows[point].empty() ? 1 : 0;
        rows[point] = std::move(row);
        return true;
    }

    // Reads what an earlier run has left; the place up to which it is whole, or nothing for another sweep's.
    std::optional<std::size_t> read_part() {
        std::ifstream stream{part, std::ios::binary};
        std::stringstream all;
        all << stream.rdbuf();
        const std::string text = all.str();
        const std::string first = head.identity + '\n';
        if (text.empty()) {
            return 0;
        }
        if (text.compare(0, first.size(), first) != 0) {
            // One that ended within its first line has nothing.
            return first.compare(0, text.size(), text) == 0 ? std::optional<std::size_t>{0} : std::nullopt;
        }
        std::size_t at = first.size();
        for (std::size_t end = text.find(end_of_row, at); end != text.npos; end = text.find(end_of_row, at)) {
            if (!take(std::string_view{text}.substr(at, end - at))) {
                break;
            }
            at = end + end_of_row.size();
        }
        return at;
    }

    std::vector<Diagnostic> write_csv(const std::filesystem::path& name) const {
        std::ofstream stream{name, std::ios::binary};
        stream << "point";
        for (const std::string& column : head.columns) {
            stream << ',' << column;
        }
        stream << '\n';
        for (std::size_t point = 0; point < rows.size(); ++point) {
            stream << point;
            for (const double value : rows[point]) {
                stream << ',' << cell_text(value);
            }
            stream << '\n';
        }
        stream.close();
        return stream
                   ? std::vector<Diagnostic>{}
                   : std::vector{fault_of(name, std::string{"cannot be written: "} + std::strerror(errno))};
    }

    std::vector<Diagnostic> write_database(const std::filesystem::path& name) const {
        std::string columns = "point INTEGER PRIMARY KEY";
        for (const std::string& column : head.columns) {
            columns += ", \"" + column + "\" REAL";
        }
        std::string fault;
        {
            const std::vector<detail::TableShape> shapes{{"sweep", columns},
                                                         {"about", "key TEXT, value TEXT"}};
            const auto tables = detail::sqlite_tables(name, shapes);
            tables->add(1, std::vector<detail::Value>{std::string_view{"sweep"}, head.identity});
            for (std::size_t point = 0; point < rows.size(); ++point) {
                std::vector<detail::Value> row{static_cast<std::int64_t>(point)};
                for (const double value : rows[point]) {
                    row.emplace_back();
                    if (!std::isnan(value)) {
                        row.back() = value;
                    }
                }
                tables->add(0, row);
            }
            tables->keep();
            fault = tables->fault();
        }
        return fault.empty() ? std::vector<Diagnostic>{}
                             : std::vector{fault_of(name, "cannot be written: " + fault)};
    }
};

SweepFile::SweepFile() = default;
SweepFile::~SweepFile() = default;
SweepFile::SweepFile(SweepFile&&) noexcept = default;
SweepFile& SweepFile::operator=(SweepFile&&) noexcept = default;

std::vector<Diagnostic> SweepFile::open(const std::string& file, const SweepHead& head) {
    writing_ = std::make_unique<Writing>();
    writing_->file = file;
    writing_->part = file + ".part";
    writing_->head = head;
    writing_->rows.resize(head.points);
    const auto failed = [&](const std::string& why, const std::string& allowed = {}) {
        const std::filesystem::path part = writing_->part;
        writing_.reset();
        return std::vector{fault_of(part, why, allowed)};
    };
    std::error_code code;
    if (std::filesystem::exists(file, code) && !std::filesystem::is_regular_file(file, code)) {
        return failed("would take the place of what is no file", "the name of a file");
    }
    const int descriptor = ::open(writing_->part.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
    writing_->descriptor = descriptor;
    if (descriptor < 0) {
        return failed(std::string{"cannot be written: "} + std::strerror(errno));
    }
    if (flock(descriptor, LOCK_EX | LOCK_NB) != 0) {
        return failed("another run writes to it");
    }
    const auto whole = writing_->read_part();
    if (!whole) {
        return failed("is of another sweep", "the same call again, another file, or to remove it");
    }
    if (ftruncate(descriptor, static_cast<off_t>(*whole)) != 0 || lseek(descriptor, 0, SEEK_END) < 0 ||
        (*whole == 0 && !writing_->write_all(head.identity + '\n'))) {
        return failed(std::string{"cannot be written: "} + std::strerror(errno));
    }
    return {};
}

std::size_t SweepFile::done() const {
    return writing_ ? writing_->done : 0;
}

bool SweepFile::has(std::size_t point) const {
    return writing_ && !writing_->rows[point].empty();
}

bool SweepFile::add(std::size_t point, std::span<const double> row) {
    if (!writing_ || has(point)) {
        return static_cast<bool>(writing_);
    }
    if (!writing_->write_all(line_of(point, row))) {
        return false;
    }
    writing_->rows[point].assign(row.begin(), row.end());
    ++writing_->done;
    return true;
}

std::vector<Diagnostic> SweepFile::finish() {
    if (!writing_ || writing_->done < writing_->head.points) {
        return {};
    }
    const std::filesystem::path whole = writing_->file.string() + ".whole";
    std::error_code code;
    std::filesystem::remove(whole, code);
    std::vector<Diagnostic> faults =
        writing_->file.extension() == ".db" ? writing_->write_database(whole) : writing_->write_csv(whole);
    if (faults.empty()) {
        std::filesystem::rename(whole, writing_->file, code);
        if (code) {
            faults.push_back(fault_of(writing_->file, "cannot be written: " + code.message()));
        }
    }
    if (faults.empty()) {
        std::filesystem::remove(writing_->part, code);
    } else {
        std::filesystem::remove(whole, code);
    }
    return faults;
}

} // namespace avrek
