#include "gnuplot.h"
#include "ttk_lines.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek::cli {

namespace {

constexpr int samples_of_stretch = 16;
constexpr double top = 0.935;
constexpr double bottom = 0.06;
constexpr double left_edge = 0.055;
constexpr double right_edge = 0.985;

// A stretch of one number of shots, and how long they take at its ends and between.
struct Step {
    ShotsStretch stretch;
    std::vector<std::pair<Metres, double>> points; // metres, milliseconds
};

std::vector<Step> steps_of(const TtkLine& line, const Target& target, Metres most, TimeBase base) {
    std::vector<Step> steps;
    for (ShotsStretch stretch : line.stretches(target)) {
        stretch.to = std::min(stretch.to, most);
        if (stretch.shots == 0 || stretch.from >= most) {
            continue;
        }
        Step& step = steps.emplace_back(Step{stretch, {}});
        for (int sample = 0; sample <= samples_of_stretch; ++sample) {
            const double share = sample / double{samples_of_stretch};
            const Metres distance = stretch.from + share * (stretch.to - stretch.from);
            // The ends are exact to a millimetre: a little inside, the number of shots is that of the
            // stretch.
            const Metres inside = std::min(2e-3, 0.25 * (stretch.to - stretch.from));
            const IdealKill kill =
                line.kill_at(target, std::clamp(distance, stretch.from + inside, stretch.to - inside));
            if (kill.verdict == KillVerdict::kills) {
                step.points.emplace_back(distance, to_milliseconds(since(kill, base)));
            }
        }
    }
    return steps;
}

std::string block_of(const std::vector<Step>& steps, std::size_t index) {
    std::string script = fmt::format("$line{} << EOD\n", index);
    for (const Step& step : steps) {
        for (const auto& [distance, time] : step.points) {
            script += fmt::format("{:.3f} {:.3f}\n", distance, time);
        }
    }
    return script + "EOD\n";
}

double longest(const std::vector<Step>& steps) {
    double most = 0.0;
    for (const Step& step : steps) {
        for (const auto& [distance, time] : step.points) {
            most = std::max(most, time);
        }
    }
    return most;
}

// The times that are drawn: up to the longest, unless a few are so long that they would flatten the rest.
double top_time(const std::vector<std::vector<Step>>& all) {
    std::vector<double> times;
    for (const std::vector<Step>& steps : all) {
        if (!steps.empty()) {
            times.push_back(longest(steps));
        }
    }
    if (times.empty()) {
        return 1000.0;
    }
    std::sort(times.begin(), times.end());
    const double usual = times[times.size() / 2];
    return std::max(100.0, 1.12 * std::min(times.back(), 2.5 * std::max(usual, 100.0)));
}

// How many shots each step takes, at its middle, where there is room for it.
std::string labels_of(const std::vector<Step>& steps, Metres most, double highest) {
    std::string script;
    for (const Step& step : steps) {
        const Metres width = step.stretch.to - step.stretch.from;
        const bool narrow = width < 0.035 * most;
        if (step.points.empty() || (narrow && steps.size() > 1)) {
            continue;
        }
        if (narrow) { // it is all there is: beside it
            script += fmt::format("set label '{}' at {},{} left offset 0.6,0 font ',10' tc rgb '#303030'\n",
                                  step.stretch.shots, step.stretch.to, step.points.back().second);
            continue;
        }
        const double time = step.points[step.points.size() / 2].second;
        const bool off = time > highest;
        script +=
            fmt::format("set label '{}{}' at {},{} center offset 0,{} font ',10' tc rgb '#303030'\n",
                        step.stretch.shots, off ? " (beyond)" : "",
                        0.5 * (step.stretch.from + step.stretch.to), off ? highest : time, off ? -0.8 : 0.7);
    }
    return script;
}

} // namespace

std::string ttk_plot(const std::vector<TtkLine>& lines, const Target& target, const std::string& title,
                     Metres most, TimeBase base) {
    std::vector<std::vector<Step>> all;
    std::string script;
    for (std::size_t index = 0; index < lines.size(); ++index) {
        all.push_back(steps_of(lines[index], target, most, base));
        script += all.back().empty() ? "" : block_of(all.back(), index);
    }
    const double highest = top_time(all);
    const auto count = lines.size();
    const auto columns = static_cast<std::size_t>(std::ceil(std::sqrt(static_cast<double>(count))));
    const std::size_t rows = (count + columns - 1) / columns;
    script +=
        "set multiplot\nset border 3 lc rgb '#404040'\nset tics nomirror out\nset grid lc rgb '#ececec'\n"
        "set key off\n";
    script +=
        fmt::format("set label 1000 {} at screen 0.5,0.968 center font ',14' noenhanced\n", quoted(title));
    script += "set label 1001 'figures: shots to kill; grey: the other weapons' at screen 0.5,0.938 center "
              "font ',11' "
              "tc rgb '#606060'\n";
    script += fmt::format("set xrange [0:{}]\nset yrange [0:{}]\n", most, highest);
    for (std::size_t index = 0; index < count; ++index) {
        const double width = (right_edge - left_edge) / static_cast<double>(columns);
        const double height = (top - bottom) / static_cast<double>(rows);
        const double left = left_edge + width * static_cast<double>(index % columns);
        const double upper = top - height * static_cast<double>(index / columns);
        script += fmt::format("set lmargin at screen {:.4f}\nset rmargin at screen {:.4f}\n"
                              "set tmargin at screen {:.4f}\nset bmargin at screen {:.4f}\n",
                              left, left + width - 0.022, upper - 0.035, upper - height + 0.025);
        script +=
            fmt::format("set title {} offset 0,-0.9 font ',11' noenhanced\n", quoted(lines[index].name));
        const bool last_row = index + columns >= count;
        script +=
            fmt::format("set xlabel '{}' offset 0,0.6\n"
                        "set format x '{}'\nset format y '{}'\n",
                        last_row ? "metres" : "", last_row ? "%g" : "", index % columns == 0 ? "%g" : "");
        script += index % columns == 0 ? "set label 'ms' at graph 0,1.09 right offset -0.8,0\n" : "";
        script += labels_of(all[index], most, highest);
        std::vector<std::string> layers;
        for (std::size_t other = 0; other < count; ++other) {
            if (other != index && !all[other].empty()) {
                layers.push_back(fmt::format("$line{} with lines lw 1 lc rgb '#d4d4d4'", other));
            }
        }
        if (all[index].empty()) {
            script += "set label 'does not kill here' at graph 0.5,0.5 center tc rgb '#606060'\n";
        } else {
            layers.push_back(fmt::format("$line{} with lines lw 2.5 lc rgb '#2060a0'", index));
        }
        std::string plot = "plot ";
        for (const std::string& layer : layers) {
            plot += (plot.size() > 5 ? ", " : "") + layer;
        }
        script += (layers.empty() ? "plot NaN" : plot) + "\nunset label\n";
    }
    return script + "unset multiplot\n";
}

} // namespace avrek::cli
