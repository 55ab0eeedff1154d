#pragma once
#include <string_view>

namespace avrek {

/// Outcome of a call that can be refused: done, or the reason why not.
///
///     if (const Outcome added = fight.add(entrant); !added) {
///         log(added.why()); // "the id is taken"
///     }
class [[nodiscard]] Outcome {
  public:
    /// Makes an outcome that is done.
    static constexpr Outcome done() { return Outcome{{}}; }
    /// Makes a refusal. `why` is a string literal: "the match is over".
    static constexpr Outcome refused(std::string_view why) { return Outcome{why}; }

    /// Returns whether it is done.
    constexpr explicit operator bool() const { return why_.empty(); }
    /// Returns the reason, a sentence without its full stop; empty if it is done.
    constexpr std::string_view why() const { return why_; }

  private:
    constexpr explicit Outcome(std::string_view why) : why_(why) {}

    std::string_view why_;
};

} // namespace avrek
