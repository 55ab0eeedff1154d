#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Wishes: a designer's targets for an arsenal, and the values that can change for them, from TOML.
/// docs/tuning.md describes the format.
namespace avrek {

/// Measure of a wish.
enum class WishMeasure : std::uint8_t {
    ideal_time, ///< seconds from the pull of the trigger, when every shot hits
    ideal_shots,
    /// Seconds from the pull by which half of all engagements are over.
    median_time,
    kill_chance, ///< chance to kill at all
    magazine_chance,
    win_rate, ///< share of duels won against another weapon, 0 to 1
};

/// Returns the word for a measure, as files write it.
std::string_view to_string(WishMeasure measure);

/// One wish: a measure of a weapon, between two values.
struct Wish {
    WishMeasure measure = WishMeasure::median_time;
    double min = 0.0;
    double max = 0.0;
    std::array<std::string, 2> weapons{}; ///< both for a win rate, else the first
    double at = 0.0;                      ///< metres
    std::string shooter{};                ///< profile of both sides; empty: the arsenal's first
    std::string body{};                   ///< body of the target; empty: the arsenal's first
    std::string region{};                 ///< aimed region; empty: the usual one
    double weight = 1.0;
};

/// Returns a wish in words: "thorn-rifle, half dead in 0.33 to 0.37 s at 15 m".
std::string to_string(const Wish& wish);

/// A number that can change.
struct WishRange {
    std::string path{}; ///< see ArsenalValues::find()
    double from = 0.0;
    double to = 0.0;
    double step = 0.0; ///< step of its values; 0: chosen as a designer would
};

/// Ranges and wishes of a file.
struct Wishes {
    std::string title{};
    std::vector<WishRange> ranges{}; ///< at least one
    std::vector<Wish> wishes{};      ///< at least one
};

/// Parses wishes about `arsenal`. Reports every fault at once, unknown weapons and paths included.
Loaded<Wishes> parse_wishes(std::string_view text, std::string_view name,
                            std::span<const ArsenalText> arsenal);
/// Loads wishes from a file, as parse_wishes().
Loaded<Wishes> load_wishes(const std::string& file, std::span<const ArsenalText> arsenal);

} // namespace avrek
