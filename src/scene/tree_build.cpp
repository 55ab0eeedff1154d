#include "tree.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::detail::tree {

namespace {

// x, y, z and one to spare: the processor's own width, and one instruction without optimisation too.
using Lanes [[gnu::vector_size(16)]] = float;

constexpr float infinity = std::numeric_limits<float>::infinity();

struct Box {
    Lanes low = {infinity, infinity, infinity, infinity};
    Lanes high = {-infinity, -infinity, -infinity, -infinity};

    void include(const Box& other) {
        low = other.low < low ? other.low : low;
        high = other.high > high ? other.high : high;
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

// Returns the distance from zero of the farthest side.
float reach_of(const Box& box) {
    float reach = 0.0F;
    for (int axis = 0; axis < 3; ++axis) {
        reach = std::max({reach, std::abs(box.low[axis]), std::abs(box.high[axis])});
    }
    return reach;
}

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

// A part of the binary tree that the eight-wide one is made of.
struct Part {
    Box box;
    std::uint32_t begin = 0; // items
    std::uint32_t end = 0;
    std::array<std::uint32_t, 2> halves{};      // parts; the first part is no one's half
    std::array<float, width - 1> cost{};        // as one child of a node, as up to two, ...
    std::array<std::uint8_t, width> to_first{}; // places for the first half, by number of places

    bool is_leaf() const { return halves[0] == 0; }
};

// Costs of visiting a node and a leaf, about as measured.
constexpr float node_cost = 1.0F;
constexpr float leaf_cost = 1.0F;

constexpr std::size_t no_axis = 3;
constexpr std::size_t bin_count = 16;
constexpr std::size_t few_bins = 6; // are enough for a few items
constexpr std::size_t few_items = 24;
// Beyond this depth ranges are halved, so that walks need no deep stack: 40, and 32 more for four thousand
// million.
constexpr int deepest_by_area = 40;

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
            for (int axis = 0; axis < 3; ++axis) {
                item.box.low[axis] = rounded_down(bounds[index].low[axis]);
                item.box.high[axis] = rounded_up(bounds[index].high[axis]);
            }
            item.box.low[3] = item.box.high[3] = 0.0F;
            items_.push_back(item);
        }
        parts_.reserve(items_.size() * 2 / 3 + 1);
        tree_.nodes.reserve(items_.size() / 16 + 1);
        tree_.leaves.reserve(items_.size() / 3 + 1);
    }

    Tree build() {
        if (!items_.empty()) {
            Range all{0, items_.size(), {}, {}};
            measure(all);
            tree_.reach = reach_of(all.box);
            add_part(all, 0);
            add_node(0);
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

    // Splits in two, down to leaves. Returns the number of the part.
    std::uint32_t add_part(const Range& range, int depth) {
        const auto number = static_cast<std::uint32_t>(parts_.size());
        parts_.push_back(
            {range.box, static_cast<std::uint32_t>(range.begin), static_cast<std::uint32_t>(range.end)});
        if (range.size() > leaf_width) {
            Range first = range;
            const Range second = split(first, depth);
            const std::uint32_t one = add_part(first, depth + 1);
            const std::uint32_t other = add_part(second, depth + 1);
            parts_[number].halves = {one, other};
        }
        weigh(parts_[number]);
        return number;
    }

    // Finds the cost of a part as one to `width` - 1 children of a node, and the best way to do that (Ylitie,
    // Karras and Laine, 2017).
    void weigh(Part& part) const {
        const float area = part.box.half_area();
        if (part.is_leaf()) {
            part.cost.fill(area * leaf_cost);
            return;
        }
        const Part& one = parts_[part.halves[0]];
        const Part& other = parts_[part.halves[1]];
        // Shared out among `places` children: some to each half.
        const auto share_out = [&](std::size_t places, std::uint8_t& to_first) {
            float least = infinity;
            for (std::size_t first = 1; first < places; ++first) {
                const float cost = one.cost[std::min(first, width - 1) - 1] +
                                   other.cost[std::min(places - first, width - 1) - 1];
                if (cost < least) {
                    least = cost;
                    to_first = static_cast<std::uint8_t>(first);
                }
            }
            return least;
        };
        part.cost[0] = share_out(width, part.to_first[width - 1]) + area * node_cost;
        for (std::size_t places = 2; places < width; ++places) {
            const float cost = share_out(places, part.to_first[places - 1]);
            part.cost[places - 1] = cost;
            if (part.cost[places - 2] <= cost) {
                part.cost[places - 1] = part.cost[places - 2];
                part.to_first[places - 1] = 0; // as with one place less
            }
        }
    }

    // Collects the children that a part becomes when it has so many places.
    void collect(std::uint32_t number, std::size_t places, std::array<std::uint32_t, width>& children,
                 std::size_t& count) const {
        const Part& part = parts_[number];
        while (places > 1 && places < width && part.to_first[places - 1] == 0) {
            --places;
        }
        if (part.is_leaf() || places == 1) {
            children[count] = number;
            ++count;
            return;
        }
        const std::size_t first = part.to_first[places - 1];
        collect(part.halves[0], std::min(first, width - 1), children, count);
        collect(part.halves[1], std::min(places - first, width - 1), children, count);
    }

    std::uint32_t add_node(std::uint32_t part) {
        const auto number = static_cast<std::uint32_t>(tree_.nodes.size());
        tree_.nodes.emplace_back();
        std::array<std::uint32_t, width> children{};
        std::size_t count = 0;
        collect(part, parts_[part].is_leaf() ? 1 : width, children, count);
        std::array<Box, width> boxes{};
        for (std::size_t child = 0; child < width; ++child) {
            std::uint32_t inside = nothing;
            if (child < count) {
                const Part& below = parts_[children[child]];
                boxes[child] = below.box;
                inside = below.is_leaf() ? add_leaf(below) : add_node(children[child]);
            }
            tree_.nodes[number].child[child] = inside;
        }
        write_boxes(tree_.nodes[number], boxes);
        return number;
    }

    // Boxes without a child are empty.
    static void write_boxes(Node& node, const std::array<Box, width>& boxes) {
        for (std::size_t axis = 0; axis < 3; ++axis) {
            for (std::size_t child = 0; child < width; ++child) {
                node.sides[0][axis][child] = boxes[child].low[axis];
                node.sides[1][axis][child] = boxes[child].high[axis];
            }
        }
    }

    std::uint32_t add_leaf(const Part& part) {
        const auto number = static_cast<std::uint32_t>(tree_.leaves.size());
        Leaf& leaf = tree_.leaves.emplace_back();
        leaf.fill(nothing);
        for (std::size_t index = part.begin; index < part.end; ++index) {
            leaf[index - part.begin] = items_[index].number;
        }
        return number | leaf_bit;
    }

    struct Plane {
        std::size_t axis = no_axis;
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

    static std::size_t bins_for(const Range& range) {
        return range.size() <= few_items ? few_bins : bin_count;
    }

    static Lanes scale_of(const Range& range) {
        const Lanes extent = range.centres.high - range.centres.low;
        const auto bins = static_cast<float>(bins_for(range));
        return extent > 0.0F ? bins * 0.9999F / extent : Lanes{};
    }

    static std::size_t bin_of(float twice, float low, float scale) {
        return static_cast<std::size_t>(std::clamp((twice - low) * scale, 0.0F, bin_count - 1.0F));
    }

    bool split_by_area(Range& range, Range& second) {
        std::array<std::array<Bin, bin_count>, 3> bins;
        const Lanes scale = scale_of(range);
        const std::size_t used_bins = bins_for(range);
        for (std::size_t index = range.begin; index < range.end; ++index) {
            const Item& item = items_[index];
            const Lanes twice = twice_centre(item);
            for (std::size_t axis = 0; axis < 3; ++axis) {
                Bin& bin = bins[axis][bin_of(twice[axis], range.centres.low[axis], scale[axis])];
                bin.box.include(item.box);
                bin.centres.include({twice, twice});
                ++bin.count;
            }
        }
        const Plane plane = best_plane(bins, scale, used_bins);
        if (plane.axis == no_axis) {
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
        const auto& chosen = bins[plane.axis];
        for (std::size_t bin = 0; bin < used_bins; ++bin) {
            Range& part = bin < plane.bin ? range : second;
            part.box.include(chosen[bin].box);
            part.centres.include(chosen[bin].centres);
        }
        return true;
    }

    static Plane best_plane(const std::array<std::array<Bin, bin_count>, 3>& bins, const Lanes& scale,
                            std::size_t used_bins) {
        Plane best;
        float least = infinity;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            if (scale[axis] == 0.0F) {
                continue;
            }
            std::array<float, bin_count> cost_above{};
            Box box;
            std::size_t count = 0;
            for (std::size_t bin = used_bins - 1; bin > 0; --bin) {
                box.include(bins[axis][bin].box);
                count += bins[axis][bin].count;
                cost_above[bin] = count > 0 ? box.half_area() * static_cast<float>(leaves_for(count)) : 0.0F;
            }
            const std::size_t all = count + bins[axis][0].count;
            box = {};
            count = 0;
            for (std::size_t bin = 1; bin < used_bins; ++bin) {
                box.include(bins[axis][bin - 1].box);
                count += bins[axis][bin - 1].count;
                if (count == 0 || count == all) {
                    continue;
                }
                const float cost = box.half_area() * static_cast<float>(leaves_for(count)) + cost_above[bin];
                if (cost < least) {
                    least = cost;
                    best = {axis, bin};
                }
            }
        }
        return best;
    }

    // A leaf of one costs as much as a full one.
    static std::size_t leaves_for(std::size_t count) { return (count + leaf_width - 1) / leaf_width; }

    Range split_in_half(Range& range) {
        const Lanes extent = range.centres.high - range.centres.low;
        std::size_t axis = extent[1] > extent[0] ? 1 : 0;
        axis = extent[2] > extent[axis] ? 2 : axis;
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
    std::vector<Part> parts_;
    Tree tree_;
};

} // namespace

Tree build_tree(std::span<const Bounds> bounds) {
    return Builder{bounds}.build();
}

// Nodes stand before those below them.
void note_layers(Tree& tree, std::span<const std::uint8_t> of_leaves) {
    std::vector<std::uint8_t> of_nodes(tree.nodes.size());
    for (std::size_t number = tree.nodes.size(); number-- > 0;) {
        Node& node = tree.nodes[number];
        for (std::size_t index = 0; index < width; ++index) {
            const std::uint32_t child = node.child[index];
            node.layers[index] = child == nothing          ? std::uint8_t{0}
                                 : (child & leaf_bit) != 0 ? of_leaves[child & ~leaf_bit]
                                                           : of_nodes[child];
            of_nodes[number] = static_cast<std::uint8_t>(of_nodes[number] | node.layers[index]);
        }
    }
}

} // namespace avrek::detail::tree
