#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Single values of an arsenal, by their paths: what tuning reads and changes.
namespace avrek {

/// A number, by its path: "weapon.thorn-rifle.damage", "weapon.thorn-rifle.region.head", or, of a point of a
/// curve, counted from 1, "weapon.thorn-rifle.falloff[2].y".
struct ArsenalNumber {
    std::string path{};
    double value = 0.0; ///< as it is now
    double min = 0.0;   ///< that its key allows
    double max = 0.0;
    bool whole = false; ///< it takes whole numbers alone
    std::string unit{};
};

/// Finds a number in the texts, laid over one another; of what they leave out, its default. Otherwise says
/// what of the path is not there, and what is.
Loaded<ArsenalNumber> find_number(std::span<const ArsenalText> texts, std::string_view path);

/// The numbers that the texts give for an entry, such as "weapon.thorn-rifle": those of its tables too, of
/// curves their y. Empty where there is no such entry.
std::vector<ArsenalNumber> numbers_of(std::span<const ArsenalText> texts, std::string_view entry);

/// A new value for a number.
struct ArsenalChange {
    std::string path{};
    double value = 0.0;
};

/// An overlay that makes changes, under a comment of any number of lines. Reports paths that find_number()
/// would not find.
Loaded<ArsenalText> overlay_of(std::span<const ArsenalText> texts, std::span<const ArsenalChange> changes,
                               std::string_view name, std::string_view comment = {});

/// A value that two arsenals have differently; empty where one does not have it.
struct ArsenalDifference {
    std::string path{};
    std::string before{};
    std::string after{};
};

/// All that differs between two arsenals, in order of the paths; of texts with faults, of what can be read.
std::vector<ArsenalDifference> differences(std::span<const ArsenalText> before,
                                           std::span<const ArsenalText> after);

} // namespace avrek
