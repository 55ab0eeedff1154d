#pragma once
#include <algorithm>
#include <iterator>

/// Lists in order of the ids of their elements.
namespace avrek::detail {

/// Returns the place of an id in a list: of the element with it, or where that would go in.
template <class List, class Id>
auto place_by_id(List& list, Id id) {
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
