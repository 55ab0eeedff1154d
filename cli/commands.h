#pragma once
namespace CLI {
class App;
}

/// The commands: each adds itself to the tool and leaves an exit status that is not `done` in `status`.
namespace avrek::cli {

void add_bout(CLI::App& tool, int& status);
void add_card(CLI::App& tool, int& status);
void add_check(CLI::App& tool, int& status);
void add_completion(CLI::App& tool, int& status);
void add_diff(CLI::App& tool, int& status);
void add_fold(CLI::App& tool, int& status);
void add_duel(CLI::App& tool, int& status);
void add_explain(CLI::App& tool, int& status);
void add_keys(CLI::App& tool, int& status);
void add_host(CLI::App& tool, int& status);
void add_join(CLI::App& tool, int& status);
void add_match(CLI::App& tool, int& status);
void add_observe(CLI::App& tool, int& status);
void add_range(CLI::App& tool, int& status);
void add_replay(CLI::App& tool, int& status);
void add_report(CLI::App& tool, int& status);
void add_session(CLI::App& tool, int& status);
void add_solve(CLI::App& tool, int& status);
void add_sweep(CLI::App& tool, int& status);
void add_ticket(CLI::App& tool, int& status);
void add_ttk(CLI::App& tool, int& status);

} // namespace avrek::cli
