#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/data/game_data.h>

#include <string>
#include <vector>

namespace avrek::cli {

inline constexpr const char* demo_level = "atrium";

/// The level that --level names: the shipped one, or a file. An arsenal without surfaces gets those of the
/// shipped one. Warnings go to standard error. Throws WrongCall on errors.
Arena arena_named(Arsenal& arsenal, const std::string& name);

/// The data of a networked match: an arsenal of files, its digest, and the level that --level names. As
/// arena_named().
GameData game_data_of(const std::vector<std::string>& files, const std::string& level);

} // namespace avrek::cli
