#include "match_plot.h"

#include "gnuplot.h"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

namespace avrek::cli {

namespace {

// Quartiles of times, in milliseconds; nothing to draw without any.
std::string quartiles(double at, std::vector<Duration> times) {
    if (times.empty()) {
        return {};
    }
    std::sort(times.begin(), times.end());
    const auto part = [&](std::size_t quarter) {
        return to_milliseconds(times[std::min(times.size() - 1, quarter * times.size() / 4)]);
    };
    return fmt::format("{} {} {} {}\n", at, part(1), part(2), part(3));
}

} // namespace

std::string match_script(const LinkTrialReport& report, const std::string& title) {
    static constexpr const char* words[] = {
        "confirmed", "missed on the server", "view too old",   "target was dead",
        "in cover",  "shooter was dead",     "not fired there"};
    static constexpr const char* colours[] = {"#4c8c4a", "#b3432b", "#d98c3f", "#9a9a9a",
                                              "#5b78a8", "#8a6aa5", "#d9c24a"};
    // Readable without colour too.
    static constexpr int patterns[] = {3, 1, 2, 0, 4, 5, 6};
    std::string text = "set multiplot layout 2,1 title " + quoted(title) + " font ',15'\n";
    text +=
        "set lmargin 10\nset rmargin 28\nset key outside right top Left reverse samplen 2 spacing 1.2\n"
        "set style data histograms\nset style histogram rowstacked\nset boxwidth 0.6\nset grid ytics lc rgb "
        "'#dddddd'\nset border 3\nset tics nomirror out\nset xrange [-0.6:" +
        fmt::format("{}]\n", static_cast<double>(report.players.size()) - 0.4);
    text += "set ylabel 'predicted hits, %'\nset yrange [0:100]\n$fates << END\n";
    for (const LinkTrialPlayer& player : report.players) {
        double all = 0.0;
        for (const std::uint64_t hits : player.hits) {
            all += static_cast<double>(hits);
        }
        text += fmt::format("\"{}\\n{}\"", player.member.name, player.link.id);
        for (const std::uint64_t hits : player.hits) {
            text += fmt::format(" {}", all > 0.0 ? 100.0 * static_cast<double>(hits) / all : 0.0);
        }
        text += '\n';
    }
    text += "END\nplot ";
    for (std::size_t fate = 0; fate < hit_fate_count; ++fate) {
        text +=
            fmt::format("{}$fates using {}:xtic(1) title {} fs pattern {} border rgb '#333333' lc rgb '{}'",
                        fate == 0 ? "" : ", ", fate + 2, quoted(words[fate]), patterns[fate], colours[fate]);
    }
    text += "\nset ylabel 'time to kill, ms since the first hit (median, quartiles)'\nset yrange [0:*]\nset "
            "xtics (";
    for (std::size_t index = 0; index < report.players.size(); ++index) {
        text +=
            fmt::format("{}{} {}", index == 0 ? "" : ", ", quoted(report.players[index].member.name), index);
    }
    text += ")\n";
    static constexpr const char* whose[] = {"shooter", "server", "victim"};
    static constexpr const char* shades[] = {"#5b78a8", "#333333", "#b3432b"};
    std::string plot;
    for (std::size_t which = 0; which < 3; ++which) {
        text += fmt::format("$times{} << END\n", which);
        for (std::size_t index = 0; index < report.players.size(); ++index) {
            const LinkTrialPlayer& player = report.players[index];
            const std::vector<Duration>& times = which == 0   ? player.as_shooter.seen
                                                 : which == 1 ? player.as_shooter.on_server
                                                              : player.felt;
            text += quartiles(static_cast<double>(index) - 0.2 + 0.2 * static_cast<double>(which), times);
        }
        text += "nan nan nan nan\nEND\n";
        plot +=
            fmt::format("{}$times{} using 1:3:2:4 with yerrorbars title {} lc rgb '{}' pt {} ps 1.6 lw 2",
                        which == 0 ? "" : ", ", which, quoted(whose[which]), shades[which], 5 + 2 * which);
    }
    return text + "plot " + plot + "\nunset multiplot\n";
}

} // namespace avrek::cli
