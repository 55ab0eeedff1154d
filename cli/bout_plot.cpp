#include "bout_plot.h"

#include "gnuplot.h"
#include <avrek/scene/cross_section.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace avrek::cli {

namespace {

constexpr Tick sample_every = 8;
constexpr std::size_t max_shots = 4000; // drawn; of more, every n-th
constexpr double cut_height = 1.2;

// The hall lies along the page: Z to the right, X upwards.
std::string point(const Vector3& at) {
    return fmt::format("{:.2f} {:.2f}\n", at.z(), at.x());
}

std::string section(const Level& level, const char* name, bool solid) {
    std::string block = fmt::format("${} << EOD\nNaN NaN\n", name);
    for (const SectionLine& line : cross_section(level, HalfSpace{world_up(), cut_height})) {
        if ((line.layer == CollisionLayer::level) == solid) {
            block += point(line.from) + point(line.to) + '\n';
        }
    }
    return block + "EOD\n";
}

} // namespace

void BoutTraces::take(const Skirmish& skirmish) {
    for (std::size_t index = 0; index < skirmish.fighters().size(); ++index) {
        const Fighter& fighter = skirmish.fighters()[index];
        const Combatant& who = skirmish.match().combatants()[index];
        if (who.vitals.life == LifeState::dead || fighter.to_place ||
            (skirmish.tick() - 1) % sample_every != 0) {
            continue;
        }
        const auto walk = std::find_if(walks_.rbegin(), walks_.rend(),
                                       [&](const Walk& one) { return one.who == fighter.id; });
        const bool goes_on = walk != walks_.rend() && !walk->points.empty() &&
                             (walk->points.back() - fighter.motion.position).squaredNorm() < 9.0;
        if (goes_on) {
            walk->points.push_back(fighter.motion.position);
        } else {
            walks_.push_back({fighter.id, who.team, {fighter.motion.position}});
        }
    }
    for (const SegmentEvent& segment : events_of<SegmentEvent>(skirmish.events())) {
        shots_.push_back(
            {segment.segment.start, segment.segment.end, segment.segment.hit && segment.segment.hit->body});
    }
    for (const BlastEvent& blast : events_of<BlastEvent>(skirmish.events())) {
        bursts_.push_back(blast.centre);
    }
    for (const KillEvent& kill : events_of<KillEvent>(skirmish.events())) {
        const Fighter* fighter = skirmish.find(kill.who);
        const Combatant* who = skirmish.match().find(kill.who);
        if (fighter != nullptr && who != nullptr) {
            deaths_[static_cast<std::size_t>(who->team) % 2].push_back(fighter->motion.position);
        }
    }
}

std::string BoutTraces::script(const Skirmish& skirmish, const std::string& title,
                               const std::string& subtitle) const {
    const Level& level = skirmish.scene().level();
    std::string script = section(level, "other", false) + section(level, "solid", true);
    for (std::size_t team = 0; team < 2; ++team) {
        script += fmt::format("$walks{} << EOD\nNaN NaN\n", team);
        for (const Walk& walk : walks_) {
            if (static_cast<std::size_t>(walk.team) % 2 == team) {
                for (const Vector3& at : walk.points) {
                    script += point(at);
                }
                script += '\n';
            }
        }
        script += fmt::format("EOD\n$deaths{} << EOD\nNaN NaN\n", team);
        for (const Vector3& at : deaths_[team]) {
            script += point(at);
        }
        script += "EOD\n";
    }
    const std::size_t step = std::max<std::size_t>(1, shots_.size() / max_shots);
    for (const bool hits : {false, true}) {
        script += fmt::format("${} << EOD\nNaN NaN\n", hits ? "hits" : "misses");
        for (std::size_t shot = 0; shot < shots_.size(); shot += hits ? 1 : step) {
            if (shots_[shot].hits == hits) {
                script += point(shots_[shot].from) + point(shots_[shot].to) + '\n';
            }
        }
        script += "EOD\n";
    }
    script += "$bursts << EOD\nNaN NaN\n";
    for (const Vector3& at : bursts_) {
        script += point(at);
    }
    script += "EOD\n";
    script += "set border 15 lc rgb '#909090'\nset tics nomirror out\nset size ratio -1\n"
              "set xlabel 'metres along the hall (Z)'\nset ylabel 'metres across (X)'\n"
              "set key at screen 0.5,0.035 center horizontal reverse Left samplen 1.5\n";
    const Bounds& bounds = level.bounds();
    double share = 0.9; // share of the page's width, by the level's shape
    if (bounds.low.x() <= bounds.high.x()) {
        const double height = bounds.high.x() - bounds.low.x() + 2.0;
        const double width = bounds.high.z() - bounds.low.z() + 2.0;
        share = std::min(0.9, 0.74 * 800.0 / 1280.0 * width / height);
        script += fmt::format("set xrange [{:.1f}:{:.1f}]\nset yrange [{:.1f}:{:.1f}]\n", bounds.low.z() - 1,
                              bounds.high.z() + 1, bounds.low.x() - 1, bounds.high.x() + 1);
    }
    script +=
        fmt::format("set lmargin at screen {:.3f}\nset rmargin at screen {:.3f}\nset tmargin at screen 0.88\n"
                    "set bmargin at screen 0.14\n",
                    0.515 - 0.5 * share, 0.515 + 0.5 * share);
    script += fmt::format("set label 100 {} at screen 0.5,0.955 center font ',14' noenhanced\n"
                          "set label 101 {} at screen 0.5,0.918 center noenhanced tc rgb '#505050'\n",
                          quoted(title), quoted(subtitle));
    const char* const colours[] = {"#2e7d32", "#b25a00"};
    std::string plot = "plot $other with lines lw 1 lc rgb '#8fb9c9' title 'glass and leaves', "
                       "$solid with lines lw 1.3 lc rgb '#5c5648' title 'level, cut at 1.2 m', "
                       "$misses with lines lw 0.6 lc rgb '#cc807090' title 'shots', "
                       "$hits with lines lw 0.9 lc rgb '#70c03020' title 'hits'";
    for (std::size_t team = 0; team < 2; ++team) {
        plot += fmt::format(", $walks{} with lines lw 1.8 lc rgb '{}' title '{}', $deaths{} with points pt 2 "
                            "ps 1.3 lw 2.5 lc rgb '{}' title '{} deaths'",
                            team, colours[team], team == 0 ? "Canopy" : "Rootward", team, colours[team],
                            team == 0 ? "Canopy" : "Rootward");
    }
    if (!bursts_.empty()) {
        plot += ", $bursts with points pt 3 ps 1.1 lw 1.2 lc rgb '#d07020' title 'explosions'";
    }
    return script + plot + '\n';
}

} // namespace avrek::cli
