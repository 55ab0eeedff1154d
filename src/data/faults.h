#pragma once
#include <avrek/core/diagnostics.h>

#include <toml++/toml.h>

#include <map>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace avrek::detail {

/// One fault before its place is known.
struct Fault {
    std::string where;
    std::string message;
    std::string allowed;
    std::string suggestion;
    Severity severity = Severity::error;
};

/// Collects the faults of one load, up to a thousand.
class Faults {
  public:
    void add(const toml::source_region& source, Fault fault);
    void add(std::string_view file, toml::source_position at, Fault fault);
    bool has_errors() const;
    std::size_t count() const { return found_.size(); }

    /// The ids of a section in all files, for values that name one of them.
    void know(const std::string& section, std::vector<std::string> ids) { known_[section] = std::move(ids); }
    const std::vector<std::string>& known(const std::string& section) { return known_[section]; }
    /// All faults, in order of place, each once.
    std::vector<Diagnostic> take();

  private:
    std::vector<Diagnostic> found_;
    std::map<std::string, std::vector<std::string>> known_;
    bool has_more_ = false;
};

/// Describes a value for a message: its text, shortened and made printable, and its type where that helps.
std::string describe(const toml::node& node);

/// `text` without control characters, shortened to `most` characters.
std::string printable(std::string_view text, std::size_t most = 60);

} // namespace avrek::detail
