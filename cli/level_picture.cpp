#include "level_picture.h"

#include "board_script.h"
#include "gnuplot.h"
#include <avrek/core/elementary.h>
#include <avrek/scene/cross_section.h>
#include <avrek/scene/silhouette.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace avrek::cli {

namespace {

constexpr double picture_width = 1280.0;
constexpr double picture_height = 800.0;
constexpr double panel_width = 1150.0;  // pixels for both panels
constexpr double panels_height = 560.0; // pixels for the two together

struct PagePoint {
    double across = 0.0;
    double up = 0.0;
};

// One panel: a flat picture of the world.
struct View {
    Vector3 origin;
    Vector3 right;
    Vector3 up;
    Extent extent{};
    std::string name;
    double pixels_per_metre = 1.0;

    PagePoint at(const Vector3& point) const {
        return {(point - origin).dot(right), (point - origin).dot(up)};
    }
    Vector3 into() const { return up.cross(right); }
    void include(const Vector3& point, double margin) {
        const PagePoint index = at(point);
        extent.include(index.across - margin, index.up - margin);
        extent.include(index.across + margin, index.up + margin);
    }
};

std::string line_to(const PagePoint& point) {
    return fmt::format("{:.3f} {:.3f}\n", point.across, point.up);
}

// The lines of a cut in a layer, as a data block.
std::string section_block(const View& view, const std::vector<SectionLine>& lines, bool solid,
                          const char* name) {
    std::string script = fmt::format("${} << EOD\n", name);
    const auto in_view = [&view](const PagePoint& a, const PagePoint& b) {
        const Extent& e = view.extent;
        return std::max(a.across, b.across) >= e.left && std::min(a.across, b.across) <= e.right &&
               std::max(a.up, b.up) >= e.down && std::min(a.up, b.up) <= e.up;
    };
    bool any = false;
    for (const SectionLine& line : lines) {
        const PagePoint from = view.at(line.from);
        const PagePoint to = view.at(line.to);
        if ((line.layer == CollisionLayer::level) == solid && in_view(from, to)) {
            script += line_to(from) + line_to(to) + '\n';
            any = true;
        }
    }
    // A block without a line cannot be plotted.
    return script + (any ? "" : "NaN NaN\n") + "EOD\n";
}

std::string_view body_colour(const LevelTrial& trial, std::size_t body) {
    const Vitals& vitals = trial.bodies[body];
    return vitals.life == LifeState::dead   ? "#b8b0b0"
           : vitals.health < vitals.maximum ? "#f4c9a4"
                                            : "#dcebcc";
}

std::string body_polygons(const View& view, const LevelPicture& picture) {
    std::string script;
    // From so far away that lines of sight are parallel.
    const Board board{view.origin - 1e6 * view.into(), view.origin};
    const Across axes = across(view.into());
    const Vector3 shown_right = -axes.left;
    for (std::size_t body = 0; body < picture.setup.bodies.size(); ++body) {
        for (const bool edges : {true, false}) {
            const std::string style =
                edges ? "fs empty border lc rgb '#404040' lw 2"
                      : fmt::format("fc rgb '{}' fs solid noborder", body_colour(picture.trial, body));
            const RigSpec& rig = picture.setup.body->rig;
            for (const PosedShape& posed : posed_shapes(rig, rest_poses(rig, picture.setup.bodies[body]))) {
                std::string corners;
                for (const BoardPoint& corner : silhouette(board, Pose{}, posed.shape, 24)) {
                    const Vector3 point = view.origin + corner.right * shown_right + corner.up * axes.up;
                    const PagePoint page = view.at(point);
                    corners += fmt::format("{} {:.4f},{:.4f} ", corners.empty() ? "from" : "to", page.across,
                                           page.up);
                }
                if (!corners.empty()) {
                    const std::string first = corners.substr(5, corners.find(' ', 5) - 5);
                    script += fmt::format("set object polygon {}to {} back {}\n", corners, first, style);
                }
            }
        }
    }
    return script;
}

std::string body_labels(const View& view, const LevelPicture& picture) {
    std::string script;
    std::vector<PagePoint> taken;
    for (std::size_t body = 0; body < picture.setup.bodies.size(); ++body) {
        const Vitals& vitals = picture.trial.bodies[body];
        PagePoint index = view.at(picture.setup.bodies[body].position);
        index.up += view.up.dot(world_up()) > 0.5 ? 2.05 : 0.75; // above its head, or beside it
        // Labels that would lie on each other are stacked.
        for (const PagePoint& other : taken) {
            const double width = 55.0 / view.pixels_per_metre;
            const double height = 14.0 / view.pixels_per_metre;
            if (std::abs(other.across - index.across) < width && std::abs(other.up - index.up) < height) {
                index.up = other.up + height;
            }
        }
        taken.push_back(index);
        const std::string left =
            vitals.life == LifeState::dead ? "dead" : fmt::format("{:.0f}", vitals.health);
        script += fmt::format("set label {} at {:.3f},{:.3f} center front font ',9'\n",
                              quoted(fmt::format("{}: {}", body + 1, left)), index.across, index.up);
    }
    return script;
}

std::string ways_block(const View& view, const LevelTrial& trial) {
    std::string script = "$ways << EOD\n";
    for (const TrialSegment& segment : trial.segments) {
        // Points nearer together than a few pixels would make the line shake.
        const std::size_t step = std::max<std::size_t>(1, segment.way.size() / 24);
        for (std::size_t point = 0; point + 1 < segment.way.size(); point += step) {
            script += line_to(view.at(segment.way[point]));
        }
        script += line_to(view.at(segment.way.back())) + '\n';
    }
    return script + "EOD\n";
}

template <class Wanted>
std::string ends_block(const View& view, const LevelTrial& trial, const char* name, const Wanted& wanted,
                       bool& any) {
    std::string script = fmt::format("${} << EOD\n", name);
    any = false;
    for (const TrialSegment& segment : trial.segments) {
        if (wanted(segment)) {
            script += line_to(view.at(segment.way.back()));
            any = true;
        }
    }
    return script + "EOD\n";
}

// The far ends of the cone that the first spray fills, seen across it; none without one.
std::vector<Vector3> spray_ends(const View& view, const LevelPicture& picture) {
    if (picture.spray <= 0.0 || picture.trial.segments.empty()) {
        return {};
    }
    const TrialSegment& segment = picture.trial.segments.front();
    const Vector3 way = segment.way.back() - segment.way.front();
    const Vector3 middle = segment.way.front() + cosine(picture.spray) * way;
    const Vector3 aside = sine(picture.spray) * view.into().cross(way);
    return {middle - aside, middle + aside};
}

std::string spray_lines(const View& view, const LevelPicture& picture) {
    std::string script;
    const PagePoint from = view.at(picture.setup.muzzle);
    for (const Vector3& end : spray_ends(view, picture)) {
        const PagePoint to = view.at(end);
        script +=
            fmt::format("set arrow from {:.3f},{:.3f} to {:.3f},{:.3f} nohead front dt 2 lc rgb '#d07020'\n",
                        from.across, from.up, to.across, to.up);
    }
    return script;
}

// Data, objects and the plot of one panel, whose place on the page is set already.
std::string panel(const View& view, const LevelPicture& picture, const HalfSpace& plane) {
    const LevelTrial& trial = picture.trial;
    const std::vector<SectionLine> lines = cross_section(picture.level, plane);
    bool bounces = false;
    const bool wounds = !trial.wounds.empty();
    bool stops = false;
    bool bursts = false;
    std::string script = "unset object\nunset label\nunset arrow\n" +
                         section_block(view, lines, true, "solid") +
                         section_block(view, lines, false, "other") + ways_block(view, trial);
    script += ends_block(
        view, trial, "bounces",
        [](const TrialSegment& segment) { return segment.end == SegmentEnd::bounces; }, bounces);
    script += "$wounds << EOD\n";
    for (const TrialWound& wound : trial.wounds) {
        script += line_to(view.at(wound.point));
    }
    script += "EOD\n";
    script += ends_block(
        view, trial, "stops",
        [](const TrialSegment& segment) {
            return segment.hit && !segment.hit->body && segment.end != SegmentEnd::bounces &&
                   segment.end != SegmentEnd::explodes;
        },
        stops);
    script += ends_block(
        view, trial, "bursts",
        [](const TrialSegment& segment) { return segment.end == SegmentEnd::explodes; }, bursts);
    const double opacity = 0.14 / std::sqrt(std::max<double>(1.0, static_cast<double>(trial.blasts.size())));
    for (const TrialBlast& blast : trial.blasts) {
        const PagePoint centre = view.at(blast.centre);
        script +=
            fmt::format("set object circle at {:.3f},{:.3f} size {:.3f} back fc rgb '#f08030' fs transparent "
                        "solid {:.3f} border lc rgb '#d07020'\n",
                        centre.across, centre.up, blast.radius, opacity);
    }
    script += body_polygons(view, picture) + body_labels(view, picture) + spray_lines(view, picture);
    const PagePoint muzzle = view.at(picture.setup.muzzle);
    script += fmt::format("$muzzle << EOD\n{}EOD\n", line_to(muzzle));
    script += fmt::format("set xrange [{:.3f}:{:.3f}]\nset yrange [{:.3f}:{:.3f}]\nset ylabel '{}'\n",
                          view.extent.left, view.extent.right, view.extent.down, view.extent.up, view.name);
    return script +
           plot_of(
               {"$other with lines lw 1 lc rgb '#8fb9c9' title 'glass and leaves'",
                "$solid with lines lw 1.3 lc rgb '#5c5648' title 'level, cut'",
                "$ways with lines lw 1.6 lc rgb '#402060a0' title 'ways'",
                bounces ? "$bounces with points pt 6 ps 1.1 lw 1.6 lc rgb '#2060a0' title 'bounce'" : "",
                stops ? "$stops with points pt 2 ps 0.8 lw 1.6 lc rgb '#303030' title 'stopped by the level'"
                      : "",
                wounds ? "$wounds with points pt 7 ps 0.9 lc rgb '#c03020' title 'hurt'" : "",
                bursts ? "$bursts with points pt 3 ps 1.3 lw 1.6 lc rgb '#d07020' title 'explosion'" : "",
                "$muzzle with points pt 9 ps 1.4 lc rgb '#202020' title 'muzzle'"});
}

// Fits everything that happened into the two panels, at one scale.
double fit(View& side, View& top, const LevelPicture& picture) {
    for (View* view : {&side, &top}) {
        view->extent = {0.0, 0.0, 0.0, 0.0};
        view->include(picture.setup.muzzle, 1.0);
        for (const TrialSegment& segment : picture.trial.segments) {
            for (const Vector3& point : segment.way) {
                view->include(point, 0.5);
            }
        }
        for (const Vector3& end : spray_ends(*view, picture)) {
            view->include(end, 0.2);
        }
        for (const Pose& body : picture.setup.bodies) {
            view->include(body.position, 1.1);
            view->include(body.position + 2.0 * world_up(), 0.5);
        }
        for (const TrialBlast& blast : picture.trial.blasts) {
            const PagePoint centre = view->at(blast.centre);
            const double reach = blast.radius + 0.2;
            view->extent.include(centre.across - reach, centre.up);
            view->extent.include(centre.across + reach, centre.up + reach);
            // Upright, what it reaches below the floor is not worth the room.
            view->extent.include(centre.across, centre.up - (view == &top ? reach : 0.5));
        }
    }
    const double left = std::min(side.extent.left, top.extent.left);
    const double right = std::max(side.extent.right, top.extent.right);
    const double heights = (side.extent.up - side.extent.down) + (top.extent.up - top.extent.down);
    const double scale = std::min(panel_width / (right - left), panels_height / heights);
    // The whole width is used, whatever there is to see in it.
    const double spare = 0.5 * (panel_width / scale - (right - left));
    for (View* view : {&side, &top}) {
        view->extent.left = left - spare;
        view->extent.right = right + spare;
        view->pixels_per_metre = scale;
    }
    // The whole height: upright the air, from above both sides.
    const double spare_height = panels_height / scale - heights;
    side.extent.up += 0.4 * spare_height;
    top.extent.up += 0.3 * spare_height;
    top.extent.down -= 0.3 * spare_height;
    return scale;
}

} // namespace

std::string level_picture(const LevelPicture& picture) {
    const Vector3 ahead = direction_of({picture.setup.look.yaw, 0.0});
    const Vector3 left = across(ahead).left;
    const Vector3& muzzle = picture.setup.muzzle;
    const Vector3 ground{muzzle.x(), 0.0, muzzle.z()};
    View side{ground, ahead, world_up(), {}, "metres up", 1.0};
    View top{ground, ahead, left, {}, "metres to the left", 1.0};
    const double scale = fit(side, top, picture);
    const auto place = [](double from_bottom, double height) {
        return fmt::format("set bmargin at screen {:.4f}\nset tmargin at screen {:.4f}\n",
                           from_bottom / picture_height, (from_bottom + height) / picture_height);
    };
    const double top_height = scale * (top.extent.up - top.extent.down);
    const double side_height = scale * (side.extent.up - side.extent.down);
    const double gap = 40.0;
    const double bottom = 110.0 + 0.5 * (panels_height - top_height - side_height);
    std::string script =
        fmt::format("set multiplot\nset border 15 lc rgb '#909090'\nset tics nomirror out\nunset key\n"
                    "set lmargin at screen {:.4f}\nset rmargin at screen {:.4f}\n",
                    80.0 / picture_width, (80.0 + panel_width) / picture_width);
    script += fmt::format("set label 100 {} at screen 0.5,0.965 center font ',14' noenhanced\n"
                          "set label 101 {} at screen 0.5,0.932 center noenhanced tc rgb '#505050'\n",
                          quoted(picture.title), quoted(picture.subtitle));
    // The labels of the page go with the first panel that is drawn; panels begin by unsetting their own.
    const std::string titles = script.substr(script.find("set label 100"));
    script += place(bottom + top_height + gap, side_height) + "set xlabel ''\n";
    std::string upper = panel(side, picture, {left, left.dot(muzzle)});
    const std::string clearing = "unset object\nunset label\nunset arrow\n";
    upper.insert(clearing.size(), titles);
    script += upper + place(bottom, top_height) +
              "set xlabel 'metres ahead of the muzzle'\nset key at screen 0.5,0.035 center horizontal "
              "reverse Left samplen 1.5\n" +
              panel(top, picture, {world_up(), muzzle.y()});
    return script + "unset multiplot\n";
}

} // namespace avrek::cli
