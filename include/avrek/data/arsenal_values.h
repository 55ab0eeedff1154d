#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

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
};

/// Finds a number in texts that overlay each other; its default if they leave it out. Returns a diagnostic
/// with the valid names if the path is unknown.
Loaded<ArsenalNumber> find_number(std::span<const ArsenalText> texts, std::string_view path);

/// Returns the numbers that the texts give for an entry, such as "weapon.thorn-rifle", its tables and the y
/// of its curves included. Empty if there is no such entry.
std::vector<ArsenalNumber> numbers_of(std::span<const ArsenalText> texts, std::string_view entry);

/// A new value of a number.
struct ArsenalChange {
    std::string path{};
    double value = 0.0;
};

/// Returns an overlay with these changes, under a comment of any number of lines. Reports paths that
/// find_number() does not find.
Loaded<ArsenalText> overlay_of(std::span<const ArsenalText> texts, std::span<const ArsenalChange> changes,
                               std::string_view name, std::string_view comment = {});

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

} // namespace avrek
