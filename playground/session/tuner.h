#pragma once
#include <avrek/data/arsenal_values.h>

#include <map>
#include <memory>
#include <set>
#include <string>
#include <string_view>
#include <vector>

/// Values that are tuned, with all changes to go back to.
namespace avrek::playground {

/// A set of changed values over the texts of an arsenal, with undo, redo, and a look at the first values.
class Tuner {
  public:
    /// Begins without a change. Precondition (asserted): the texts have no fault.
    explicit Tuner(std::vector<ArsenalText> texts);

    /// Returns the entries that have numbers: "weapon.thorn-rifle".
    const std::vector<std::string>& entries() const { return entries_; }
    /// Returns the numbers of an entry with the values that count now, plain keys first.
    /// With `all`, those that the texts leave out come last, with their defaults.
    std::vector<ArsenalNumber> numbers_of(std::string_view entry, bool all = false) const;
    /// Returns the value of a number now. Returns diagnostics for a path that is unknown.
    [[nodiscard]] Loaded<ArsenalNumber> find(std::string_view path) const;

    /// Returns a number with its first value.
    [[nodiscard]] Loaded<ArsenalNumber> first_of(std::string_view path) const { return values_.find(path); }
    /// Changes values, at once; returns why that is not allowed, and then nothing has changed. With `goes_on`
    /// it replaces the last change if that was of the same values: a slider that is dragged is one change.
    std::vector<Diagnostic> set(const std::map<std::string, double>& values, bool goes_on = false);
    /// Changes the values to those of an overlay, as one change. Entries that the arsenal lacks are left out.
    std::vector<Diagnostic> apply(const ArsenalText& overlay);
    /// Takes back the last change. Returns false without one.
    bool undo();
    /// Makes it again. Returns false without one.
    bool redo();
    /// Shows the first values, or the changed ones again.
    void compare();
    bool shows_first() const { return shows_first_; } ///< the first values count

    /// Takes other texts as the first values, with the changes over them. Returns why not, and then nothing
    /// has changed.
    std::vector<Diagnostic> take(std::vector<ArsenalText> texts);

    /// Returns the arsenal with the values that count now.
    const std::shared_ptr<const Arsenal>& arsenal() const { return arsenal_; }
    /// Returns the arsenal with the first values.
    const std::shared_ptr<const Arsenal>& first() const { return first_; }
    /// Returns an overlay with the changed values.
    [[nodiscard]] Loaded<ArsenalText> overlay(std::string_view name) const;
    /// Returns the changed values against the first.
    std::vector<ArsenalDifference> differences() const;
    /// Returns the texts with the values that count now.
    std::vector<ArsenalText> texts() const;
    /// Returns an overlay with the present values of everything that was ever changed: for a server that has
    /// seen some of the changes.
    [[nodiscard]] Loaded<ArsenalText> whole_overlay(std::string_view name) const;
    std::size_t change_count() const { return at_; } ///< changes that count

  private:
    using Changes = std::map<std::string, double>;
    std::vector<ArsenalChange> changes_of(const Changes& changes) const;
    Loaded<Arsenal> made(const ArsenalValues& values, const Changes& changes) const;
    bool go(std::size_t at);

    ArsenalValues values_;
    std::vector<std::string> entries_{};
    std::vector<Changes> history_{{}};              ///< [0] has no change
    std::vector<std::vector<std::string>> paths_{}; ///< paths of each change
    std::set<std::string> touched_{};               ///< paths that were ever changed
    std::size_t at_ = 0;                            ///< in `history_`
    bool shows_first_ = false;
    std::shared_ptr<const Arsenal> first_{};
    std::shared_ptr<const Arsenal> arsenal_{};
};

} // namespace avrek::playground
