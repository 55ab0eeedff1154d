#pragma once
#include "command_line.h"
#include <avrek/data/tuning_session.h>

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

/// Session files on the command line.
namespace avrek::cli {

/// Returns whether a word names a session or one of its changes: FILE.session or FILE.session@NUMBER.
bool is_session(std::string_view word);

/// Returns the file and the number of the change that a word names; none for the last change. Throws
/// WrongCall.
std::pair<std::string, std::optional<std::int64_t>> session_parts(const std::string& word);

/// Returns the texts of the change that a word names. Throws WrongCall.
std::vector<ArsenalText> session_texts(const std::string& word);

/// Returns the time of day, for a change.
SessionTime session_now();

/// Returns "PATH: BEFORE -> AFTER", with the difference in percent of numbers.
std::string difference_text(const ArsenalDifference& difference);

/// Keeps changes in a session file, if one was asked for.
class SessionKeeper {
  public:
    SessionKeeper() = default;
    /// Opens the file and keeps the beginning. Without a file nothing is kept. Throws WrongCall.
    SessionKeeper(const std::string& file, std::span<const ArsenalText> texts, const std::string& by);
    /// Keeps a change. Says so on standard error if that fails, once, and goes on.
    void keep(std::span<const ArsenalText> texts, const std::string& by);

  private:
    std::optional<TuningSession> session_{};
    bool failed_ = false;
};

} // namespace avrek::cli
