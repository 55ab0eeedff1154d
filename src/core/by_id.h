#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <iterator>

/// Lists in order of the ids of their elements.
namespace avrek::detail {

/// Returns how far an id lies after the first one: its place in a list in which ids follow one another. Large
/// for an id before the first.
template <class Id>
std::size_t ids_after(Id first, Id id) {
    return static_cast<std::uint32_t>(id) - static_cast<std::uint32_t>(first);
}

/// Returns the place of an id in a list: of the element with it, or where that would go in. Quick where ids
/// follow one another.
template <class List, class Id>
auto place_by_id(List& list, Id id) {
    const auto size = std::size(list);
    if (size > 0) {
        const std::size_t ahead = ids_after(list[0].id, id);
        if (ahead < size && list[ahead].id == id) {
            return std::begin(list) + static_cast<std::ptrdiff_t>(ahead);
        }
    }
    return std::lower_bound(std::begin(list), std::end(list), id,
                            [](const auto& one, Id wanted) { return one.id < wanted; });
}

/// Returns the element with an id, or null.
template <class List, class Id>
auto* find_by_id(List& list, Id id) {
    const auto place = place_by_id(list, id);
    return place != std::end(list) && place->id == id ? &*place : nullptr;
}

} // namespace avrek::detail
