#include "board_script.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

namespace avrek::cli {

namespace {

constexpr std::array<std::string_view, 6> region_colours{"#f2b8a0", "#cfe3c0", "#a9cbe8",
                                                         "#e9dcaf", "#d3c3e6", "#bfbfbf"};

} // namespace

std::string_view region_colour(std::size_t region) {
    return region_colours[region % region_colours.size()];
}

void Extent::include(double x, double y) {
    left = std::min(left, x);
    right = std::max(right, x);
    down = std::min(down, y);
    up = std::max(up, y);
}

void Extent::include(const Extent& other) {
    include(other.left, other.down);
    include(other.right, other.up);
}

std::string ranges_of(const Extent& extent) {
    const double margin = 0.05 * std::max(extent.right - extent.left, extent.up - extent.down);
    return fmt::format("set xrange [{}:{}]\nset yrange [{}:{}]\n", extent.left - margin,
                       extent.right + margin, extent.down - margin, extent.up + margin);
}

BoardScript::BoardScript(const RangeTrial& trial)
    : trial_(trial), height_(trial.board.centre.y()), extent_{0.0, 0.0, height_, height_} {}

std::string BoardScript::outline(const BodySpec& body) {
    std::string script;
    const std::vector<PosedShape> shapes = posed_shapes(body.rig, rest_poses(body.rig, Pose{}));
    for (std::size_t index = body.rig.regions.size(); index-- > 0;) {
        const std::string_view colour = region_colour(index);
        // All edges first, then all fills: the edges inside a region disappear.
        for (const bool edges : {true, false}) {
            for (const auto& [region, shape] : shapes) {
                if (to_index(region) != index) {
                    continue;
                }
                script += polygon(shape, edges ? "fs empty border lc rgb '#404040' lw 2.5"
                                               : fmt::format("fc rgb '{}' fs solid noborder", colour));
            }
        }
    }
    return script;
}

std::string BoardScript::circle(const BoardPoint& centre, Metres radius, std::string_view style) {
    if (radius <= 0.0) {
        return {};
    }
    const double height = height_ + centre.up;
    extent_.include(centre.right - radius, height - radius);
    extent_.include(centre.right + radius, height + radius);
    return fmt::format("set object circle at {},{} size {} front {}\n", centre.right, height, radius, style);
}

std::string BoardScript::points(std::string_view name, bool on_body) {
    std::string script = fmt::format("${} << EOD\n", name);
    for (const RangeShot& shot : trial_.shots) {
        if ((shot.hit && shot.hit->body) == on_body) {
            const double height = shot.board.up + height_;
            extent_.include(shot.board.right, height);
            const auto region = on_body ? static_cast<std::size_t>(*shot.hit->region) : 0;
            script += fmt::format("{} {} 0x{}\n", shot.board.right, height, region_colour(region).substr(1));
        }
    }
    return script + "EOD\n";
}

std::string BoardScript::polygon(const Shape& shape, std::string_view style) {
    const std::vector<BoardPoint> corners = silhouette(trial_.board, trial_.target, shape);
    if (corners.empty()) {
        return {};
    }
    std::string script = "set object polygon ";
    for (const BoardPoint& corner : corners) {
        extent_.include(corner.right, corner.up + height_);
        script += fmt::format("{} {:.5f},{:.5f} ", &corner == &corners.front() ? "from" : "to", corner.right,
                              corner.up + height_);
    }
    return script + fmt::format("to {:.5f},{:.5f} behind {}\n", corners.front().right,
                                corners.front().up + height_, style);
}

std::string plot_of(const std::vector<std::string>& layers) {
    std::string script;
    for (const std::string& layer : layers) {
        if (!layer.empty()) {
            script += (script.empty() ? "plot " : ", \\\n     ") + layer;
        }
    }
    return script + '\n';
}

} // namespace avrek::cli
