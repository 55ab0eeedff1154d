#pragma once
#include <avrek/data/level_files.h>

namespace avrek::cli {

/// data/atrium.toml and its mesh as they were when the tool was built, with the surfaces of `arsenal`.
Loaded<Arena> shipped_level(const Arsenal& arsenal);

} // namespace avrek::cli
