#include "body_frames.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

namespace avrek::detail {

namespace {

using tree::Node;

// Looking at all boxes one after the other is as quick for fewer.
constexpr std::size_t few_bodies = 64;

constexpr float nowhere = std::numeric_limits<float>::infinity();
constexpr BodyBox no_box{{nowhere, nowhere, nowhere}, {-nowhere, -nowhere, -nowhere}};

// A body as a number that sorts by its place along an axis, then by its slot.
std::uint64_t key_of(float place, std::uint32_t slot) {
    const auto bits = std::bit_cast<std::uint32_t>(place);
    const std::uint32_t ordered = (bits >> 31U) != 0 ? ~bits : bits | 0x8000'0000U;
    return std::uint64_t{ordered} << 32U | slot;
}

std::uint32_t slot_of(std::uint64_t key) {
    return static_cast<std::uint32_t>(key);
}

// Bodies in an order in which those near to each other are near to each other: halved along the longest side,
// and again, down to eight.
void sort_in_space(std::span<std::uint64_t> keys, const std::vector<BodyBox>& boxes) {
    constexpr std::size_t width = tree::width;
    if (keys.size() <= width) {
        return;
    }
    const auto twice_middle = [&](std::uint64_t key, std::size_t axis) {
        return boxes[slot_of(key)].low[axis] + boxes[slot_of(key)].high[axis];
    };
    BodyBox middles = no_box;
    for (const std::uint64_t key : keys) {
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const float middle = twice_middle(key, axis);
            middles.low[axis] = std::min(middles.low[axis], middle);
            middles.high[axis] = std::max(middles.high[axis], middle);
        }
    }
    std::size_t longest = 0;
    for (std::size_t axis = 1; axis < 3; ++axis) {
        if (middles.high[axis] - middles.low[axis] > middles.high[longest] - middles.low[longest]) {
            longest = axis;
        }
    }
    for (std::uint64_t& key : keys) {
        key = key_of(twice_middle(key, longest), slot_of(key));
    }
    const std::size_t half = (keys.size() / 2 + width - 1) / width * width;
    std::nth_element(keys.begin(), keys.begin() + static_cast<std::ptrdiff_t>(half), keys.end());
    sort_in_space(keys.first(half), boxes);
    sort_in_space(keys.subspan(half), boxes);
}

// Puts `child` with its box into a place of a node.
void put(Node& node, std::size_t place, std::uint32_t child, const BodyBox& box) {
    node.child[place] = child;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        node.sides[0][axis][place] = box.low[axis];
        node.sides[1][axis][place] = box.high[axis];
    }
}

BodyBox box_around(const Node& node) {
    BodyBox box = no_box;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        for (std::size_t place = 0; place < tree::width; ++place) {
            box.low[axis] = std::min(box.low[axis], node.sides[0][axis][place]);
            box.high[axis] = std::max(box.high[axis], node.sides[1][axis][place]);
        }
    }
    return box;
}

std::size_t groups_of(std::size_t count) {
    return (count + tree::width - 1) / tree::width;
}

// Nodes of the levels from the root down; eight children each.
void fill_nodes(tree::Tree& tree, std::span<const std::uint64_t> keys, const std::vector<BodyBox>& boxes) {
    std::size_t level_begin = 0;
    for (std::size_t count = groups_of(keys.size()); count > 1;) {
        count = groups_of(count);
        level_begin += count; // nodes above the lowest level
    }
    std::size_t below = keys.size();
    std::size_t below_begin = 0;
    for (bool is_lowest = true;; is_lowest = false) {
        const std::size_t count = groups_of(below);
        for (std::size_t index = 0; index < count * tree::width; ++index) {
            Node& node = tree.nodes[level_begin + index / tree::width];
            const std::size_t place = index % tree::width;
            if (index >= below) {
                put(node, place, tree::nothing, no_box);
            } else if (is_lowest) {
                const std::uint32_t slot = slot_of(keys[index]);
                put(node, place, slot | tree::leaf_bit, boxes[slot]);
            } else {
                const std::size_t child = below_begin + index;
                put(node, place, static_cast<std::uint32_t>(child), box_around(tree.nodes[child]));
            }
        }
        if (count == 1) {
            return;
        }
        below = count;
        below_begin = level_begin;
        level_begin -= groups_of(count);
    }
}

} // namespace

std::size_t body_tree_nodes(std::size_t bodies) {
    std::size_t nodes = 1;
    for (std::size_t count = groups_of(bodies); count > 1; count = groups_of(count)) {
        nodes += count;
    }
    return nodes;
}

void BodyFrames::build_tree() {
    has_tree[newest] = 0;
    if (used <= few_bodies) {
        return;
    }
    const std::size_t last = count > 1 ? frame_before(newest) : newest;
    std::size_t found = 0;
    float reach = 0.0F;
    for (std::size_t slot = 0; slot < used; ++slot) {
        if (!is_in(newest, slot) && !is_in(last, slot)) {
            continue;
        }
        BodyBox box = no_box;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const float margin = margins[newest * padded + slot];
            box.low[axis] = std::min(low[box_at(newest, axis, slot)], low[box_at(last, axis, slot)]) - margin;
            box.high[axis] =
                std::max(high[box_at(newest, axis, slot)], high[box_at(last, axis, slot)]) + margin;
            reach = std::max({reach, std::abs(box.low[axis]), std::abs(box.high[axis])});
        }
        tree_boxes[slot] = box;
        tree_keys[found] = slot;
        ++found;
    }
    if (found == 0) {
        return;
    }
    const std::span<std::uint64_t> keys = std::span{tree_keys}.first(found);
    sort_in_space(keys, tree_boxes);
    trees[newest].reach = reach;
    fill_nodes(trees[newest], keys, tree_boxes);
    has_tree[newest] = 1;
}

} // namespace avrek::detail
