#include "duel_plot.h"

#include "gnuplot.h"

#include <fmt/format.h>

#include <algorithm>

namespace avrek::cli {

std::string duel_script(const DuelMatrix& matrix, const std::string& title) {
    constexpr std::size_t max_boards = 6;
    const std::size_t count = matrix.names.size();
    const std::size_t boards = std::min(max_boards, matrix.distances.size());
    const std::size_t columns = boards < 2 ? 1 : boards < 5 ? 2 : 3;
    const std::size_t rows = (boards + columns - 1) / columns;
    std::string script = fmt::format(
        "set multiplot layout {},{} title {} font ',15' noenhanced\n"
        "set palette defined (0 '#e3a898', 0.5 '#ffffff', 1 '#2060a0')\nset cbrange [0:100]\nunset "
        "colorbox\nset border 0\nset tics scale 0\nunset key\nset xrange [-0.5:{}]\nset yrange [{}:-0.5]\n"
        "set lmargin 14\nset rmargin 2\nset tmargin 3\nset bmargin 2\n",
        rows, columns, quoted(title + ": % won by the row against the column"),
        static_cast<double>(count) - 0.5, static_cast<double>(count) - 0.5);
    std::string names;
    std::string numbers;
    for (std::size_t index = 0; index < count; ++index) {
        names += fmt::format("{}{} {}", index == 0 ? "" : ", ",
                             quoted(fmt::format("{} {}", matrix.names[index], index + 1)), index);
        numbers += fmt::format("{}'{}' {}", index == 0 ? "" : ", ", index + 1, index);
    }
    script += "set ytics (" + names + ") font ',9' noenhanced\nset xtics (" + numbers + ") font ',9'\n";
    const int size = count > 6 || boards > 2 ? 8 : 11;
    for (std::size_t distance = 0; distance < boards; ++distance) {
        script += fmt::format("unset label\nset title '{:g} m' font ',12'\n", matrix.distances[distance]);
        std::string block = fmt::format("$board{} << EOD\n", distance);
        for (std::size_t row = 0; row < count; ++row) {
            for (std::size_t column = 0; column < count; ++column) {
                const DuelOutcome& outcome = matrix.at(distance, row, column);
                const bool decided = outcome.neither < 0.995;
                const double rate = decided ? 100.0 * outcome.win_rate(0) : 50.0;
                block += fmt::format("{} {} {:.2f}\n", column, row, rate);
                const bool dark = rate > 80.0;
                script += fmt::format("set label '{}' at {},{} center font ',{}' tc rgb '{}' front\n",
                                      decided ? fmt::format("{:.0f}", rate) : std::string{"-"}, column, row,
                                      size, dark ? "#ffffff" : "#202020");
            }
        }
        script = script + block + fmt::format("EOD\nplot $board{} using 1:2:3 with image\n", distance);
    }
    return script + "unset multiplot\n";
}

} // namespace avrek::cli
