#include "range_compare.h"

#include "board_script.h"
#include "gnuplot.h"

#include <fmt/format.h>

#include <algorithm>

namespace avrek::cli {

namespace {

constexpr const char* heading_font = "font ',13'";

double per_second(const RangeSeries& one) {
    const double seconds = to_seconds(one.setup.length);
    return seconds > 0.0 ? one.trial.hits / seconds : 0.0;
}

double per_cent(const RangeSeries& one) {
    const auto pellets = static_cast<double>(one.trial.shots.size());
    return pellets > 0.0 ? 100.0 * one.trial.hits / pellets : 0.0;
}

const RangeSeries& best_by(const std::vector<RangeSeries>& series, double (*value)(const RangeSeries&)) {
    return *std::max_element(
        series.begin(), series.end(),
        [value](const RangeSeries& a, const RangeSeries& b) { return value(a) < value(b); });
}

std::string name_of(const RangeSeries& one) {
    return fmt::format("{}, {}", one.plan, one.posture);
}

std::string subject(const WeaponSpec& weapon, const BodySpec& body, const RangeSeries& one) {
    return fmt::format("{} at {}, {} m, aimed at the {}, {:g} s", weapon.id, body.id, one.setup.distance,
                       region_of(body.rig, one.setup.aim).name, to_seconds(one.setup.length));
}

// Where a board stands on the picture, in shares of it.
struct Frame {
    double left;
    double right;
    double down;
    double up;
};

Frame frame_of(std::size_t index, std::size_t count) {
    const std::size_t columns = count <= 3 ? count : (count + 1) / 2;
    const std::size_t rows = count <= 3 ? 1 : 2;
    const double width = 0.98 / static_cast<double>(columns);
    const double height = 0.915 / static_cast<double>(rows);
    const std::size_t row = index / columns;
    const double left = 0.01 + width * static_cast<double>(index % columns);
    const double up = 0.915 - height * static_cast<double>(row);
    return {left, left + width, up - height, up};
}

// The board in the middle of its frame, with room for its captions, a metre as long upwards as to the side on
// a picture of 1280 by 800.
std::string place_of(const Frame& frame, const Extent& extent) {
    constexpr double shape_of_picture = 1280.0 / 800.0;
    const double height = frame.up - frame.down - 0.185;
    const double shape = (extent.right - extent.left) / (extent.up - extent.down) / shape_of_picture;
    const double width = std::min(frame.right - frame.left - 0.05, height * shape);
    const double middle = 0.5 * (frame.left + frame.right) + 0.01;
    const double up = frame.up - 0.065;
    return fmt::format("set lmargin at screen {}\nset rmargin at screen {}\nset bmargin at screen {}\n"
                       "set tmargin at screen {}\nset xrange [{}:{}]\nset yrange [{}:{}]\n",
                       middle - 0.5 * width, middle + 0.5 * width, up - width / shape, up, extent.left,
                       extent.right, extent.down, extent.up);
}

std::string board_of(const BodySpec& body, const RangeSeries& one, std::size_t index, const Frame& frame,
                     const Extent& extent, BoardScript& board) {
    const RangeTrial& trial = one.trial;
    const auto missed = static_cast<std::ptrdiff_t>(trial.shots.size()) - trial.hits;
    const double middle = 0.5 * (frame.left + frame.right);
    std::string script = "unset object\nunset label\n" + board.outline(body);
    script += board.circle(trial.group.centre, trial.group.radius_90,
                           "fc rgb '#2060a0' fs transparent solid 0.10 border lc rgb '#2060a0' dt 2 lw 1.5");
    script += board.circle(trial.group.centre, trial.group.radius_50,
                           "fc rgb '#2060a0' fs transparent solid 0.22 border lc rgb '#2060a0' lw 2");
    script += board.points(fmt::format("hits{}", index), true) +
              board.points(fmt::format("misses{}", index), false);
    script += place_of(frame, extent);
    script += fmt::format("set label {} at screen {},{} center {} noenhanced\n", quoted(one.plan), middle,
                          frame.up - 0.02, heading_font);
    script += fmt::format("set label {} at screen {},{} center noenhanced tc rgb '#505050'\n",
                          quoted(one.posture), middle, frame.up - 0.048);
    script += fmt::format("set label '{} of {} hit, {:.0f} %; {:.1f} a second' at screen {},{} center {}\n",
                          trial.hits, trial.shots.size(), per_cent(one), per_second(one), middle,
                          frame.down + 0.055, heading_font);
    script += fmt::format("set label 'half within {:.2f} m, 90 % within {:.2f} m' at screen {},{} center\n",
                          trial.group.radius_50, trial.group.radius_90, middle, frame.down + 0.025);
    script += fmt::format("$aim{} << EOD\n0 {}\nEOD\n", index, trial.board.centre.y());
    script += plot_of(
        {trial.hits > 0 ? fmt::format("$hits{} with points pt 7 ps 1.1 lc rgb '#102030'", index) : "",
         missed > 0 ? fmt::format("$misses{} with points pt 2 ps 0.8 lw 1.5 lc rgb '#c03020'", index) : "",
         fmt::format("$aim{} with points pt 1 ps 2 lw 2 lc rgb '#c03020'", index)});
    return script;
}

} // namespace

std::string posture_name(const Posture& posture) {
    std::string name = posture.airborne    ? "in the air"
                       : posture.crouching ? "crouching"
                       : posture.speed > 0 ? "upright"
                                           : "standing";
    name += posture.speed > 0.0 ? fmt::format(" at {:g} m/s", posture.speed) : std::string{" still"};
    if (posture.aim_blend > 0.0) {
        name += posture.aim_blend == 1.0 ? std::string{", aimed"}
                                         : fmt::format(", aimed {:g}", posture.aim_blend);
    }
    return name;
}

Table comparison_table(const std::vector<RangeSeries>& series) {
    Table table{{{"plan", "", "plan"},
                 {"posture", "", "posture"},
                 {"shots", "", "shots"},
                 {"pellets", "", "pellets"},
                 {"hits", "", "hits"},
                 {"hits", "%", "hits_percent", 0},
                 {"hits", "per s", "hits_per_second", 1},
                 {"half in", "m", "half_radius_m", 2},
                 {"90% in", "m", "max_radius_m", 2},
                 {"off aim", "m", "off_aim_m", 2},
                 {"dead at", "ms", "death_ms", 0}},
                {}};
    for (const RangeSeries& one : series) {
        const RangeTrial& trial = one.trial;
        table.rows.push_back({one.plan, one.posture, std::int64_t{trial.shots_fired},
                              static_cast<std::int64_t>(trial.shots.size()), std::int64_t{trial.hits},
                              per_cent(one), per_second(one), trial.group.radius_50, trial.group.radius_90,
                              trial.group.off_aim,
                              trial.death ? Cell{to_milliseconds(trial.death->time_since_epoch())} : Cell{}});
    }
    return table;
}

std::string verdict_of(const std::vector<RangeSeries>& series) {
    // A trial without a shot has no group, however small its circle is.
    const RangeSeries& tightest = best_by(series, [](const RangeSeries& one) {
        return one.trial.shots.empty() ? -1e9 : -one.trial.group.radius_50;
    });
    const RangeSeries& surest = best_by(series, per_cent);
    if (tightest.trial.shots.empty()) {
        return "no shot left\n";
    }
    const std::string group = fmt::format("tightest group: {}\n", name_of(tightest));
    return surest.trial.hits == 0
               ? group + "nothing hit the body\n"
               : group + fmt::format("most of its shots hit: {}\nmost hits a second: {}\n", name_of(surest),
                                     name_of(best_by(series, per_second)));
}

std::string comparison_text(const WeaponSpec& weapon, const BodySpec& body,
                            const std::vector<RangeSeries>& series, bool colour) {
    return fmt::format("{}, seed {}\n\n{}\n{}", subject(weapon, body, series.front()),
                       series.front().setup.seed, to_text(comparison_table(series), colour),
                       verdict_of(series));
}

std::string comparison_plot(const WeaponSpec& weapon, const BodySpec& body,
                            const std::vector<RangeSeries>& series) {
    Extent extent;
    for (const RangeSeries& one : series) {
        BoardScript measured{one.trial};
        measured.outline(body);
        measured.circle(one.trial.group.centre, one.trial.group.radius_90, "");
        measured.points("all", true);
        extent.include(measured.extent());
    }
    extent.include(extent.left - 0.1, extent.down - 0.05);
    extent.include(extent.right + 0.1, extent.up + 0.1);
    std::string script = "set multiplot\nset border 3 lc rgb '#a0a0a0'\nset tics nomirror out\nset key off\n"
                         "set grid lc rgb '#ececec'\nset xtics 1 offset 0,0.4\nset ytics 1\n";
    for (std::size_t index = 0; index < series.size(); ++index) {
        BoardScript board{series[index].trial};
        if (index == 0) {
            script += fmt::format("set label 100 {} at screen 0.5,0.965 center font ',15' noenhanced\n",
                                  quoted(subject(weapon, body, series.front())));
            script += "set label 101 'solid circle: half of the shots; dashed: 90 % of them; cross: the aim; "
                      "metres' at "
                      "screen 0.5,0.935 center tc rgb '#505050'\n";
        }
        std::string drawn =
            board_of(body, series[index], index, frame_of(index, series.size()), extent, board);
        if (index == 0) { // the first board carries the title
            const std::string reset = "unset object\nunset label\n";
            drawn = drawn.substr(reset.size());
        }
        script += drawn;
    }
    return script + "unset multiplot\n";
}

} // namespace avrek::cli
