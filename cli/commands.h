#pragma once
#include <CLI/CLI.hpp>

/// The commands: each adds itself to the tool and leaves its exit status in `status` when it has run.
namespace avrek::cli {

void add_check(CLI::App& tool, int& status);
void add_keys(CLI::App& tool, int& status);
void add_range(CLI::App& tool, int& status);
void add_ttk(CLI::App& tool, int& status);

} // namespace avrek::cli
