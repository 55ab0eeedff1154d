#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/data/level_files.h>

#include <string>

namespace avrek::cli {

inline constexpr const char* demo_level = "atrium";

/// The level that --level names: the shipped one, or a file. An arsenal without surfaces gets those of the
/// shipped one. Warnings go to standard error. Throws WrongCall on errors.
Arena arena_named(Arsenal& arsenal, const std::string& name);

} // namespace avrek::cli
