#include "range_plot.h"

#include "board_script.h"
#include "gnuplot.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>

namespace avrek::cli {

namespace {

constexpr std::size_t max_region_rows = 8;

bool counts_for(const RangeShot& shot, std::size_t region) {
    return shot.hit && shot.hit->region == static_cast<RegionId>(region);
}

// A row for each region: its colour, its multiplier, the hits in it and what they took.
std::string region_rows(const WeaponSpec& weapon, const BodySpec& body, const RangeTrial& trial) {
    std::string script =
        "set label 'region' at screen 0.60,0.385 left\nset label 'multiplier' at screen 0.76,0.385 "
        "right\nset label 'hits' at screen 0.83,0.385 right\nset label 'health taken' at screen "
        "0.95,0.385 right\n";
    const std::size_t shown = std::min(body.rig.regions.size(), max_region_rows);
    if (shown < body.rig.regions.size()) {
        script += fmt::format("set label 'and {} regions more' at screen 0.60,0.04 left\n",
                              body.rig.regions.size() - shown);
    }
    for (std::size_t index = 0; index < shown; ++index) {
        int hits = 0;
        double taken = 0.0;
        for (const RangeShot& shot : trial.shots) {
            hits += counts_for(shot, index) ? 1 : 0;
            taken += counts_for(shot, index) ? shot.damage.amount() : 0.0;
        }
        const double y = 0.345 - 0.038 * static_cast<double>(index);
        const std::string& name = body.rig.regions[index].name;
        script +=
            fmt::format("set object rectangle center screen 0.582,{} size screen 0.014,0.022 fc rgb '{}' fs "
                        "solid border lc rgb '#404040'\n",
                        y, region_colour(index));
        script += fmt::format("set label {} at screen 0.60,{} left noenhanced\n", quoted(name), y);
        script += fmt::format("set label '{:g}' at screen 0.76,{} right\n",
                              region_multiplier(weapon.region_multipliers, name), y);
        script += fmt::format("set label '{}' at screen 0.83,{} right\n", hits, y);
        script += fmt::format("set label '{:.1f}' at screen 0.95,{} right\n", taken, y);
    }
    return script;
}

std::string verdict_text(const BodySpec& body, const RangeTrial& trial) {
    if (trial.death) {
        return fmt::format("dead {:.0f} ms after the pull of the trigger, by shot {}",
                           to_milliseconds(*trial.death - Time{}), trial.shots_to_death);
    }
    return trial.shots.empty()
               ? "no shot left"
               : fmt::format("alive, with {:.1f} of {} health", trial.shots.back().health_left, body.health);
}

// Health as a falling stair, from before the first shot to the end.
std::string health_steps(const BodySpec& body, const RangeSetup& setup, const RangeTrial& trial) {
    std::string script = fmt::format("$health << EOD\n0 {}\n", body.health);
    double left = body.health;
    for (const RangeShot& shot : trial.shots) {
        left = shot.health_left;
        script += fmt::format("{} {}\n", to_seconds(shot.at.time_since_epoch()), left);
    }
    script += fmt::format("{} {}\nEOD\n$blows << EOD\n", to_seconds(setup.length), left);
    for (const RangeShot& shot : trial.shots) {
        if (shot.damage.amount() > 0.0) {
            script += fmt::format("{} {}\n", to_seconds(shot.at.time_since_epoch()), shot.health_left);
        }
    }
    return script + "EOD\n";
}

} // namespace

std::string range_plot(const WeaponSpec& weapon, const BodySpec& body, const RangeSeries& one) {
    const RangeSetup& setup = one.setup;
    const RangeTrial& trial = one.trial;
    const auto hits = std::count_if(trial.shots.begin(), trial.shots.end(),
                                    [](const RangeShot& shot) { return shot.hit && shot.hit->body; });
    const auto misses = static_cast<std::ptrdiff_t>(trial.shots.size()) - hits;
    const double radius = cone_radius(trial.widest_cone, trial);
    BoardScript board{trial};
    std::string script = "set multiplot\nset tics nomirror out\nset border 3 lc rgb '#404040'\n";
    script += fmt::format(
        "set label 100 {} at screen 0.5,0.965 center font ',15' noenhanced\n",
        quoted(fmt::format("{} at {}, {} m, aimed at the {}, {:g} s", weapon.id, body.id, setup.distance,
                           region_of(body.rig, setup.aim).name, to_seconds(setup.length))));
    script += fmt::format("set label 101 {} at screen 0.5,0.935 center noenhanced tc rgb '#505050'\n",
                          quoted(fmt::format("{}, {}", one.plan, one.posture)));
    script += board.outline(body) + board.circle({}, radius, "fs empty border lc rgb '#c03020' dt 2 lw 1.5");
    script += board.points("hits", true) + board.points("misses", false);
    script += ranges_of(board.extent());
    script += "set size ratio -1\nset lmargin at screen 0.08\nset rmargin at screen 0.46\n"
              "set tmargin at screen 0.90\nset bmargin at screen 0.17\nset grid lc rgb '#e4e4e4'\n"
              "set xlabel 'metres to the side, as the shooter sees it'\nset ylabel 'metres above the floor'\n"
              "set key at screen 0.08,0.075 left top reverse Left samplen 1.5 spacing 1.1\n";
    const std::string aim = fmt::format("$aim << EOD\n0 {}\nEOD\n", trial.board.centre.y());
    script += aim;
    script += plot_of(
        {hits > 0 ? fmt::format("$hits with points pt 7 ps 1.8 lc rgb '#102030' title '{} hit, in the colour "
                                "of the region'",
                                hits)
                  : "",
         hits > 0 ? "$hits using 1:2:3 with points pt 7 ps 1.25 lc rgb variable notitle" : "",
         misses > 0 ? fmt::format("$misses with points pt 2 ps 0.9 lw 1.5 lc rgb '#c03020' title '{} missed'",
                                  misses)
                    : "",
         fmt::format("$aim with points pt 1 ps 2 lw 2 lc rgb '#c03020' title "
                     "'aim, and the circle of the widest spread: {:.2f} m across'",
                     2 * radius)});
    script +=
        "unset object\nunset label 100\nunset label 101\nset size noratio\nset key default\nset key off\n"
        "set lmargin at screen 0.56\nset rmargin at screen 0.97\nset tmargin at screen 0.90\n"
        "set bmargin at screen 0.53\nset xlabel 'seconds'\nset ylabel 'health left'\n";
    script += fmt::format("set xrange [0:{}]\nset yrange [0:{}]\n", std::max(1e-9, to_seconds(setup.length)),
                          body.health * 1.05);
    script += fmt::format("set label {} at screen 0.57,0.435 left font ',13' noenhanced\n",
                          quoted(verdict_text(body, trial)));
    script += region_rows(weapon, body, trial) + health_steps(body, setup, trial);
    const bool blows = std::any_of(trial.shots.begin(), trial.shots.end(),
                                   [](const RangeShot& shot) { return shot.damage.amount() > 0.0; });
    script += plot_of({"$health with steps lw 2.5 lc rgb '#2060a0'",
                       blows ? "$blows with points pt 7 ps 0.9 lc rgb '#102030'" : ""});
    return script + "unset multiplot\n";
}

} // namespace avrek::cli
