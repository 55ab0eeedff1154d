#include "card_plot.h"

#include "board_script.h"
#include "gnuplot.h"

#include <fmt/format.h>

#include <algorithm>

namespace avrek::cli {

namespace {

constexpr Duration longest_firing = std::chrono::seconds{3};
constexpr Duration shortest_rest = std::chrono::milliseconds{600};
constexpr Duration sample_step = std::chrono::milliseconds{2};

struct CardLine {
    const char* block;
    const char* colour;
    std::string title;
    Posture posture;
};

std::vector<CardLine> lines_of(const WeaponSpec& weapon) {
    const double fastest = weapon.spread.moving.points.empty() ? 0.0 : weapon.spread.moving.points.back().x;
    std::vector<CardLine> lines;
    if (fastest > 0.0) {
        lines.push_back({"moving",
                         "#c03020",
                         fmt::format("hip, moving at {:g} m/s", fastest),
                         {fastest, false, false, 0.0}});
    }
    lines.push_back({"hip", "#2060a0", "hip, standing still", {}});
    if (weapon.spread.aimed) {
        lines.push_back({"aimed", "#2e7d32", "aimed, standing still", {0.0, false, false, 1.0}});
    }
    return lines;
}

// The time that the cone needs to be as at rest again, and a little more.
Duration rest_of(const WeaponSpec& weapon) {
    const Recovery& recovery = weapon.spread.bloom.recovery;
    const Duration needed = recovery.delay + from_seconds(recovery.left.points.back().x);
    return std::max(needed + needed / 3, shortest_rest);
}

std::string cone_block(const WeaponSpec& weapon, const CardLine& line, double& last_shot, double& end) {
    std::string script = fmt::format("${} << EOD\n", line.block);
    const auto samples = cone_over_time(weapon, line.posture, longest_firing, rest_of(weapon), sample_step);
    for (const ConeSample& sample : samples) {
        script += fmt::format("{:.6f} {:.5f}\n", to_seconds(sample.at - Time{}), to_degrees(sample.cone));
    }
    end = std::max(end, to_seconds(samples.back().at - Time{}));
    last_shot = end - to_seconds(rest_of(weapon));
    return script + "EOD\n";
}

std::string recoil_half(const WeaponCard& card) {
    std::string script =
        "set lmargin at screen 0.64\nset rmargin at screen 0.97\nset title 'view after each shot, nothing "
        "pulled back' offset 0,-0.4\nset xlabel 'degrees to the side, as the shooter sees it'\n"
        "set ylabel 'degrees up'\nset key off\n";
    if (card.recoil.empty()) {
        return script +
               "set xrange [-1:1]\nset yrange [0:1]\nset label 'no recoil' at 0,0.5 center\nplot NaN\n";
    }
    script += "$recoil << EOD\n0 0 0\n";
    Extent extent{-0.1, 0.1, 0.0, 0.1};
    for (std::size_t shot = 0; shot < card.recoil.size(); ++shot) {
        const double right = -to_degrees(card.recoil[shot].yaw);
        const double up = to_degrees(card.recoil[shot].pitch);
        extent.include(right, up);
        script += fmt::format("{} {} {}\n", right, up, shot + 1);
    }
    // As wide as it is high, so that the way to the side is not blown up.
    const double middle = 0.5 * (extent.left + extent.right);
    const double half = 0.30 * (extent.up - extent.down);
    extent.include(middle - half, 0.0);
    extent.include(middle + half, 0.0);
    const std::size_t every = std::max<std::size_t>(1, card.recoil.size() / 12);
    return script + "EOD\n" + ranges_of(extent) +
           fmt::format(
               "plot $recoil with linespoints pt 7 ps 1 lw 2 lc rgb '#2060a0', $recoil every {}::1 using "
               "1:2:3 with labels offset 1.6,0.2 left font ',10'\n",
               every);
}

} // namespace

std::string card_plot(const WeaponSpec& weapon, const WeaponCard& card) {
    double last_shot = 0.0;
    double end = 0.0;
    std::string script;
    std::vector<std::string> plots;
    for (const CardLine& line : lines_of(weapon)) {
        script += cone_block(weapon, line, last_shot, end);
        plots.push_back(
            fmt::format("${} with lines lw 2.5 lc rgb '{}' title '{}'", line.block, line.colour, line.title));
    }
    const double widest =
        std::max_element(card.cones.begin(), card.cones.end(), [](const CardCone& a, const CardCone& b) {
            return a.worst < b.worst;
        })->worst;
    script +=
        fmt::format("set multiplot\nset border 3 lc rgb '#404040'\nset tics nomirror out\n"
                    "set grid lc rgb '#e4e4e4'\nset tmargin at screen 0.87\nset bmargin at screen 0.10\n"
                    "set lmargin at screen 0.07\nset rmargin at screen 0.56\n"
                    "set label 100 {} at screen 0.5,0.965 center font ',15' noenhanced\n",
                    quoted(fmt::format("{}: spread and recoil", weapon.id)));
    script += fmt::format("set title 'half-angle of the cone: trigger held, then let go' offset 0,-0.4\n"
                          "set xlabel 'seconds'\nset ylabel 'degrees'\nset xrange [0:{}]\nset yrange [0:{}]\n"
                          "set key top right opaque\n",
                          end, std::max(0.1, to_degrees(widest) * 1.08));
    script += fmt::format("set arrow 1 from {0},graph 0 to {0},graph 1 nohead dt 2 lc rgb '#808080'\n"
                          "set label 1 'last shot' at {0},graph 0.03 right offset -0.6,0 tc rgb '#606060'\n",
                          last_shot);
    script += plot_of(plots) + "unset arrow\nunset label\n" + recoil_half(card);
    return script + "unset multiplot\n";
}

} // namespace avrek::cli
