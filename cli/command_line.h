#pragma once
#include "output.h"

#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

#include <CLI/CLI.hpp>

#include <cstdint>
#include <string>
#include <vector>

/// What the commands share of the command line.
namespace avrek::cli {

/// Exit statuses.
inline constexpr int done = 0;
inline constexpr int not_right = 1; ///< the checked thing is not right
inline constexpr int wrong_call = 2; ///< the call or the input is wrong

/// A reason to stop with `wrong_call`. Thrown by what a command calls, caught in main().
struct WrongCall {
    std::vector<std::string> lines; ///< for standard error
};

/// There is no `kind` of this name: says so, with what there is and what was probably meant.
WrongCall unknown_name(const std::string& kind, const std::string& name, const std::vector<std::string>& known);

/// The options that every command takes.
struct CommonOptions {
    std::vector<std::string> words; ///< what stands without a dash: arsenal files, and ids where a command takes them
    OutputOptions output;
    std::uint64_t seed = 1;
};

/// Adds the options that every command takes: --format, --json, --out, --seed.
void add_common(CLI::App& command, CommonOptions& options);

/// Lets a command take words without a dash, under a name for its help.
void add_words(CLI::App& command, CommonOptions& options, const std::string& name, const std::string& description);

/// Lets a command draw. --plot takes a file that ends in .png or .svg.
void add_plot(CLI::App& command, std::string& file);

/// The words that name arsenal files (they end in .toml), in order.
std::vector<std::string> files_among(const std::vector<std::string>& words);

/// The other words.
std::vector<std::string> ids_among(const std::vector<std::string>& words);

/// The texts of these files, or of the shipped arsenal if there are none. Throws WrongCall when one cannot be read.
std::vector<ArsenalText> arsenal_texts(const std::vector<std::string>& files);

/// The arsenal of these files, or the shipped one; warnings go to standard error. Throws WrongCall on errors.
Arsenal arsenal_of(const std::vector<std::string>& files);

/// The weapons with these ids, or all of the arsenal's. Throws WrongCall for an unknown id.
std::vector<const WeaponSpec*> weapons_of(const Arsenal& arsenal, const std::vector<std::string>& ids);

/// The body with this id; with an empty one, the arsenal's first. Throws WrongCall when there is none.
const BodySpec& body_of(const Arsenal& arsenal, const std::string& id);

/// The region of a body with this name. Throws WrongCall when there is none.
RegionId region_named(const BodySpec& body, const std::string& name);

/// A check for numbers from a range, whose message states what is allowed: "over 0 to 600 s".
CLI::Validator number_between(double least, double most, bool over_least, const std::string& unit);

} // namespace avrek::cli
