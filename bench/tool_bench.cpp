// How long the tool takes from process start to its answer, beside a process that does nothing.
#include <benchmark/benchmark.h>
#include <fcntl.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <initializer_list>
#include <string>
#include <vector>

namespace {

void run_process(benchmark::State& state, std::initializer_list<std::string> words) {
    std::vector<std::string> texts{words};
    std::vector<char*> call;
    for (std::string& text : texts) {
        call.push_back(text.data());
    }
    call.push_back(nullptr);
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, STDOUT_FILENO, "/dev/null", O_WRONLY, 0);
    for (auto _ : state) {
        pid_t process = 0;
        int status = 0;
        if (posix_spawnp(&process, call[0], &actions, nullptr, call.data(), environ) != 0 ||
            waitpid(process, &status, 0) < 0 || status != 0) {
            state.SkipWithError("the process failed");
            break;
        }
    }
    posix_spawn_file_actions_destroy(&actions);
}

void process_that_does_nothing(benchmark::State& state) {
    run_process(state, {"true"});
}
BENCHMARK(process_that_does_nothing)->UseRealTime()->Unit(benchmark::kMillisecond);

void ttk_of_the_shipped_arsenal(benchmark::State& state) {
    run_process(state, {AVREK_TOOL, "ttk"});
}
BENCHMARK(ttk_of_the_shipped_arsenal)->UseRealTime()->Unit(benchmark::kMillisecond);

} // namespace
