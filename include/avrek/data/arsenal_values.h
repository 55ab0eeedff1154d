#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_keys.h>
#include <avrek/data/arsenal_toml.h>

#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Single values of an arsenal by their paths, for tuning.
namespace avrek {

/// A number by its path: "weapon.thorn-rifle.damage", "weapon.thorn-rifle.region.head", or
/// "weapon.thorn-rifle.falloff[2].y" for a curve point, counted from 1.
struct ArsenalNumber {
    std::string path{};
    double value = 0.0; ///< present value
    double min = 0.0;   ///< limit of its key
    double max = 0.0;
    bool whole = false; ///< integers only
    std::string unit{};
    std::string meaning{};          ///< one line
    KeyType type = KeyType::number; ///< type of its key; a point has `curve` or `pairs`
    bool given = true;              ///< false: the texts leave it out, and the value is its default
    std::string fallback{};         ///< default of its key, as text; empty: there is none
};

/// A new value of a number.
struct ArsenalChange {
    std::string path{};
    double value = 0.0;
};

/// The numbers of texts that overlay each other. Parses them once; copies share the result.
///
///     const ArsenalValues values{texts};
///     const double damage = values.find("weapon.thorn-rifle.damage")->value;
class ArsenalValues {
  public:
    /// Parses the texts. Faults in them count as values that are not given; see parse_arsenal().
    explicit ArsenalValues(std::span<const ArsenalText> texts);

    /// Finds a number; its default if the texts leave it out. Returns a diagnostic with the valid names if
    /// the path is unknown.
    [[nodiscard]] Loaded<ArsenalNumber> find(std::string_view path) const;
    /// Returns the numbers that the texts give for an entry, such as "weapon.thorn-rifle", its tables and the
    /// y of its curves included. Empty if there is no such entry.
    std::vector<ArsenalNumber> numbers_of(std::string_view entry) const;
    /// Returns the same, and the numbers with a default that the texts leave out, in the entry and in groups
    /// that it has: "weapon.thorn-rifle.spread.crouching".
    std::vector<ArsenalNumber> all_numbers_of(std::string_view entry) const;
    /// Returns an overlay with these changes, under a comment of any number of lines. Reports paths that
    /// find() does not find.
    [[nodiscard]] Loaded<ArsenalText> overlay(std::span<const ArsenalChange> changes, std::string_view name,
                                              std::string_view comment = {}) const;
    /// Returns the arsenal with these changes, or why they are not allowed: a fault in a change has the file
    /// "changes", no line, and the path of the value.
    [[nodiscard]] Loaded<Arsenal> with(std::span<const ArsenalChange> changes) const;
    /// Returns the texts.
    std::span<const ArsenalText> texts() const;

  private:
    struct Parsed;
    std::shared_ptr<const Parsed> parsed_;
};

/// A value that differs between two arsenals; empty where one lacks it.
struct ArsenalDifference {
    std::string path{};
    std::string before{};
    std::string after{};
};

/// Returns all differences between two arsenals, in order of paths. Texts with faults count as far as they
/// can be read.
std::vector<ArsenalDifference> differences(std::span<const ArsenalText> before,
                                           std::span<const ArsenalText> after);

/// Returns an overlay that turns one arsenal into another: all values that differ, or that `before` lacks.
/// Reports values that `after` lacks, because an overlay takes none away.
///
///     const auto overlay = overlay_between(data.texts, tuned.texts(), "evening.toml");
[[nodiscard]] Loaded<ArsenalText> overlay_between(std::span<const ArsenalText> before,
                                                  std::span<const ArsenalText> after, std::string_view name);

} // namespace avrek
