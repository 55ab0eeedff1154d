#include "tree.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::tree {

namespace {

using Lanes = Eigen::Array4f; // x, y, z and one to spare: the processor's own width

constexpr float infinity = std::numeric_limits<float>::infinity();

struct Box {
    Lanes low = Lanes::Constant(infinity);
    Lanes high = Lanes::Constant(-infinity);

    void include(const Box& other) {
        low = low.min(other.low);
        high = high.max(other.high);
    }
    float half_area() const {
        const Lanes size = high - low;
        return size[0] * size[1] + size[1] * size[2] + size[2] * size[0];
    }
};

struct Item {
    Box box;
    std::uint32_t number = 0;
};

Lanes twice_centre(const Item& item) {
    return item.box.low + item.box.high;
}

float rounded_down(double value) {
    const float nearest = static_cast<float>(value);
    return nearest > value ? std::nextafter(nearest, -infinity) : nearest;
}

float rounded_up(double value) {
    return -rounded_down(-value);
}

// A range of items, and the boxes around them and around their centres.
struct Range {
    std::size_t begin = 0;
    std::size_t end = 0;
    Box box;
    Box centres;

    std::size_t size() const { return end - begin; }
};

struct Bin {
    Box box;
    Box centres;
    std::size_t count = 0;
};

constexpr std::size_t bin_count = 16;
// Beyond this depth ranges are halved, so that walks need no deep stack.
constexpr int deepest_by_area = 20;

class Builder {
  public:
    explicit Builder(std::span<const Bounds> bounds) {
        items_.reserve(bounds.size());
        for (std::size_t index = 0; index < bounds.size(); ++index) {
            if (is_empty(bounds[index])) {
                continue;
            }
            Item item;
            item.number = static_cast<std::uint32_t>(index);
            for (Eigen::Index axis = 0; axis < 3; ++axis) {
                item.box.low[axis] = rounded_down(bounds[index].low[axis]);
                item.box.high[axis] = rounded_up(bounds[index].high[axis]);
            }
            item.box.low[3] = item.box.high[3] = 0.0F;
            items_.push_back(item);
        }
        tree_.nodes.reserve(items_.size() / 8 + 1);
        tree_.leaves.reserve(items_.size() / 2 + 1);
    }

    Tree build() {
        if (!items_.empty()) {
            Range all{0, items_.size(), {}, {}};
            measure(all);
            add_node(all, 0);
        }
        return std::move(tree_);
    }

  private:
    void measure(Range& range) const {
        range.box = {};
        range.centres = {};
        for (std::size_t index = range.begin; index < range.end; ++index) {
            range.box.include(items_[index].box);
            const Lanes centre = twice_centre(items_[index]);
            range.centres.include({centre, centre});
        }
    }

    std::uint32_t add_node(const Range& range, int depth) {
        const auto number = static_cast<std::uint32_t>(tree_.nodes.size());
        tree_.nodes.emplace_back();
        std::array<Range, width> children;
        children[0] = range;
        std::size_t count = 1;
        while (count < width) {
            // The largest child that is more than a leaf gains most from being split.
            std::size_t chosen = width;
            for (std::size_t child = 0; child < count; ++child) {
                if (children[child].size() > leaf_width &&
                    (chosen == width || children[child].box.half_area() > children[chosen].box.half_area())) {
                    chosen = child;
                }
            }
            if (chosen == width) {
                break;
            }
            children[count] = split(children[chosen], depth);
            ++count;
        }
        for (std::size_t child = 0; child < width; ++child) {
            std::uint32_t inside = nothing;
            if (child < count) {
                inside = children[child].size() <= leaf_width ? add_leaf(children[child])
                                                              : add_node(children[child], depth + 1);
            }
            Node& node = tree_.nodes[number];
            for (std::size_t axis = 0; axis < 3; ++axis) {
                const auto lane = static_cast<Eigen::Index>(axis);
                node.low[axis][child] = children[child].box.low[lane];
                node.high[axis][child] = children[child].box.high[lane];
            }
            node.child[child] = inside;
        }
        return number;
    }

    std::uint32_t add_leaf(const Range& range) {
        const auto number = static_cast<std::uint32_t>(tree_.leaves.size());
        Leaf& leaf = tree_.leaves.emplace_back();
        leaf.fill(nothing);
        for (std::size_t index = range.begin; index < range.end; ++index) {
            leaf[index - range.begin] = items_[index].number;
        }
        return number | leaf_bit;
    }

    struct Plane {
        Eigen::Index axis = -1;
        std::size_t bin = 0;
    };

    // Keeps the first part in `range` and returns the second.
    Range split(Range& range, int depth) {
        Range second;
        const Lanes extent = range.centres.high - range.centres.low;
        const bool spread = extent[0] > 0.0F || extent[1] > 0.0F || extent[2] > 0.0F;
        if (depth < deepest_by_area && spread && split_by_area(range, second)) {
            return second;
        }
        return split_in_half(range);
    }

    static Lanes scale_of(const Range& range) {
        const Lanes extent = range.centres.high - range.centres.low;
        return (extent > 0.0F).select(static_cast<float>(bin_count) * 0.9999F / extent, Lanes::Zero());
    }

    static std::size_t bin_of(float twice, float low, float scale) {
        return static_cast<std::size_t>(std::clamp((twice - low) * scale, 0.0F, bin_count - 1.0F));
    }

    bool split_by_area(Range& range, Range& second) {
        std::array<std::array<Bin, bin_count>, 3> bins;
        const Lanes scale = scale_of(range);
        for (std::size_t index = range.begin; index < range.end; ++index) {
            const Item& item = items_[index];
            const Lanes twice = twice_centre(item);
            for (std::size_t axis = 0; axis < 3; ++axis) {
                const auto lane = static_cast<Eigen::Index>(axis);
                Bin& bin = bins[axis][bin_of(twice[lane], range.centres.low[lane], scale[lane])];
                bin.box.include(item.box);
                bin.centres.include({twice, twice});
                ++bin.count;
            }
        }
        const Plane plane = best_plane(bins, scale);
        if (plane.axis < 0) {
            return false;
        }
        const float low = range.centres.low[plane.axis];
        const float axis_scale = scale[plane.axis];
        const auto first_of_second =
            std::partition(items_.begin() + static_cast<std::ptrdiff_t>(range.begin),
                           items_.begin() + static_cast<std::ptrdiff_t>(range.end), [&](const Item& item) {
                               return bin_of(twice_centre(item)[plane.axis], low, axis_scale) < plane.bin;
                           });
        second = {static_cast<std::size_t>(first_of_second - items_.begin()), range.end, {}, {}};
        range = {range.begin, second.begin, {}, {}};
        const auto& chosen = bins[static_cast<std::size_t>(plane.axis)];
        for (std::size_t bin = 0; bin < bin_count; ++bin) {
            Range& part = bin < plane.bin ? range : second;
            part.box.include(chosen[bin].box);
            part.centres.include(chosen[bin].centres);
        }
        return true;
    }

    static Plane best_plane(const std::array<std::array<Bin, bin_count>, 3>& bins, const Lanes& scale) {
        Plane best;
        float least = infinity;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            if (scale[static_cast<Eigen::Index>(axis)] == 0.0F) {
                continue;
            }
            std::array<float, bin_count> cost_above{};
            Box box;
            std::size_t count = 0;
            for (std::size_t bin = bin_count - 1; bin > 0; --bin) {
                box.include(bins[axis][bin].box);
                count += bins[axis][bin].count;
                cost_above[bin] = count > 0 ? box.half_area() * static_cast<float>(leaves_for(count)) : 0.0F;
            }
            const std::size_t all = count + bins[axis][0].count;
            box = {};
            count = 0;
            for (std::size_t bin = 1; bin < bin_count; ++bin) {
                box.include(bins[axis][bin - 1].box);
                count += bins[axis][bin - 1].count;
                if (count == 0 || count == all) {
                    continue;
                }
                const float cost = box.half_area() * static_cast<float>(leaves_for(count)) + cost_above[bin];
                if (cost < least) {
                    least = cost;
                    best = {static_cast<Eigen::Index>(axis), bin};
                }
            }
        }
        return best;
    }

    // A leaf of one costs as much as a full one.
    static std::size_t leaves_for(std::size_t count) { return (count + leaf_width - 1) / leaf_width; }

    Range split_in_half(Range& range) {
        Eigen::Index axis = 0;
        (range.centres.high - range.centres.low).head<3>().maxCoeff(&axis);
        const std::size_t middle = range.begin + range.size() / 2;
        const auto at = [this](std::size_t index) {
            return items_.begin() + static_cast<std::ptrdiff_t>(index);
        };
        std::nth_element(at(range.begin), at(middle), at(range.end),
                         [axis](const Item& one, const Item& other) {
                             const float a = twice_centre(one)[axis];
                             const float b = twice_centre(other)[axis];
                             return a != b ? a < b : one.number < other.number;
                         });
        Range second{middle, range.end, {}, {}};
        range = {range.begin, middle, {}, {}};
        measure(range);
        measure(second);
        return second;
    }

    std::vector<Item> items_;
    Tree tree_;
};

} // namespace

Tree build_tree(std::span<const Bounds> bounds) {
    return Builder{bounds}.build();
}

} // namespace avrek::tree
