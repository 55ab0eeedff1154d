#include <benchmark/benchmark.h>

#include <algorithm>
#include <cstdint>
#include <vector>

namespace {

// A piece of work that never changes, to hold times against that have no rival: arithmetic, branches that
// nobody foresees, and memory of a megabyte.
void fixed_work(benchmark::State& state) {
    std::vector<std::uint32_t> numbers(1 << 14);
    std::vector<double> values(1 << 17, 1.0);
    for ([[maybe_unused]] const auto& step : state) {
        std::uint32_t word = 1;
        for (std::uint32_t& number : numbers) {
            word = word * 1664525U + 1013904223U;
            number = word;
        }
        std::sort(numbers.begin(), numbers.end());
        double sum = 0.0;
        for (std::size_t index = 0; index < values.size(); ++index) {
            values[index] = 0.5 * values[index] + 1e-9 * numbers[index % numbers.size()];
            sum += values[index];
        }
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(fixed_work)->Unit(benchmark::kMicrosecond);

// The speed of the memory: the triad of a million floats.
void triad_of_floats(benchmark::State& state) {
    std::vector<float> sums(1'000'000, 0.0F);
    const std::vector<float> ones(sums.size(), 1.0F);
    const std::vector<float> others(sums.size(), 2.0F);
    for ([[maybe_unused]] const auto& step : state) {
        for (std::size_t index = 0; index < sums.size(); ++index) {
            sums[index] = ones[index] + 0.5F * others[index];
        }
        benchmark::DoNotOptimize(sums.data());
        benchmark::ClobberMemory();
    }
}
BENCHMARK(triad_of_floats)->Unit(benchmark::kMicrosecond);

} // namespace
