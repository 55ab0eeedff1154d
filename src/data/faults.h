#pragma once
#include <avrek/core/diagnostics.h>

#include <toml++/toml.h>

#include <string>
#include <string_view>
#include <vector>

namespace avrek::data {

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
    /// All faults, in order of place, each once.
    std::vector<Diagnostic> take();

  private:
    std::vector<Diagnostic> found_;
    bool has_more_ = false;
};

/// What a value is, for a message: its text, shortened and made printable, and its type where that helps.
std::string describe(const toml::node& node);

/// `text` without control characters, shortened to `most` characters.
std::string printable(std::string_view text, std::size_t most = 60);

} // namespace avrek::data
