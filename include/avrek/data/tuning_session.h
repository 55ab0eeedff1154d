#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/arsenal_values.h>

#include <chrono>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Files that keep each change of a long evening of tuning.
namespace avrek {

/// Time of a change, UTC.
using SessionTime = std::chrono::sys_time<std::chrono::milliseconds>;

/// A change of a session.
struct SessionChange {
    std::int64_t number = 0; ///< 0: the values that the session began with
    SessionTime at{};
    std::string by{};                        ///< the program or person that changed it
    std::vector<std::string> files{};        ///< names of its texts, in order
    std::vector<ArsenalDifference> values{}; ///< against the change before; none of change 0
};

/// A session file: the texts of an arsenal after each change, with time and values. It is a database of
/// SQLite, so that several programs can write to it, and nothing is lost when one is killed. A text that does
/// not change is kept once.
///
///     auto session = TuningSession::open("evening.session");
///     (void)session->keep(tuned.texts(), now, "playtest");   // after each step
///     const auto before = session->texts(3);                 // back to change 3:
///     (void)server.retune({.texts = *before, .replaces = true});
class TuningSession {
  public:
    /// Opens a session file; makes it if it is missing. Returns a diagnostic if the file is something else,
    /// or cannot be written.
    [[nodiscard]] static Loaded<TuningSession> open(const std::string& file);
    /// Opens a session file to read. Returns a diagnostic if it is missing or something else.
    [[nodiscard]] static Loaded<TuningSession> read(const std::string& file);

    /// Keeps the texts that count now, and returns the number of the change. Texts that equal those of the
    /// last change are not kept again; then that change's number is returned.
    Loaded<std::int64_t> keep(std::span<const ArsenalText> texts, SessionTime at, std::string_view by);

    /// Returns all changes, in order.
    [[nodiscard]] Loaded<std::vector<SessionChange>> changes() const;
    /// Returns the texts after a change. Reports a number that the session lacks.
    [[nodiscard]] Loaded<std::vector<ArsenalText>> texts(std::int64_t number) const;
    /// Returns the texts after the last change. Reports a session without any.
    [[nodiscard]] Loaded<std::vector<ArsenalText>> last_texts() const;

    TuningSession(TuningSession&&) noexcept;
    TuningSession& operator=(TuningSession&&) noexcept;
    ~TuningSession();

  private:
    struct Base;
    explicit TuningSession(std::unique_ptr<Base> base);
    std::unique_ptr<Base> base_;
};

} // namespace avrek
