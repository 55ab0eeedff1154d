#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// What a designer wants of an arsenal, and what may be changed for it, out of TOML. The format is in
/// docs/tuning.md.
namespace avrek {

/// What a wish is about.
enum class WishMeasure : std::uint8_t {
    ideal_time, ///< seconds from the pull of the trigger, when every shot hits
    ideal_shots,
    median_time, ///< seconds from the pull of the trigger by which half of all engagements are over
    kill_chance, ///< chance to kill at all
    magazine_chance,
    win_rate, ///< of a weapon against another, 0 to 1
};

/// The word for a measure in files.
std::string_view to_string(WishMeasure measure);

/// One wish: a measure of a weapon between two values.
struct Wish {
    WishMeasure measure = WishMeasure::median_time;
    double min = 0.0;
    double max = 0.0;
    std::array<std::string, 2> weapons{}; ///< of a win rate both, otherwise the first
    double at = 0.0;                      ///< metres
    std::string shooter{};                ///< of both sides; empty: the arsenal's first
    std::string body{};                   ///< of the target; empty: the arsenal's first
    std::string region{};                 ///< that is aimed at; empty: the usual one
    double weight = 1.0;
};

/// A wish in words: "thorn-rifle, half dead in 0.33 to 0.37 s at 15 m".
std::string to_string(const Wish& wish);

/// A number that may be changed.
struct WishRange {
    std::string path{}; ///< see find_number()
    double from = 0.0;
    double to = 0.0;
    double step = 0.0; ///< its values are multiples of this; 0: such as a designer would write
};

struct Wishes {
    std::string title{};
    std::vector<WishRange> ranges{}; ///< at least one
    std::vector<Wish> wishes{};      ///< at least one
};

/// Reads wishes about the arsenal of `arsenal`; reports every fault at once, unknown weapons and paths too.
Loaded<Wishes> parse_wishes(std::string_view text, std::string_view name,
                            std::span<const ArsenalText> arsenal);
Loaded<Wishes> load_wishes(const std::string& file, std::span<const ArsenalText> arsenal);

} // namespace avrek
