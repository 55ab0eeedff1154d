#include "keys/sections.h"
#include <avrek/arsenal/places.h>

#include <algorithm>
#include <iterator>
#include <type_traits>
#include <utility>

namespace avrek {

namespace {

// Returns the list of an arsenal that holds such specs.
template <class Spec>
const std::vector<Spec>& list_of(const Arsenal& arsenal) {
    const std::vector<Spec>* list = nullptr;
    detail::visit_sections(
        [&list](const char*, const auto& specs) {
            if constexpr (std::is_same_v<decltype(specs), const std::vector<Spec>&>) {
                list = &specs;
            }
        },
        arsenal);
    return *list;
}

template <class Spec>
std::vector<Spec> in_places_of(const std::vector<Spec>& was, std::vector<Spec> is) {
    std::vector<Spec> placed;
    placed.reserve(std::max(was.size(), is.size()));
    for (const Spec& before : was) {
        const auto same =
            std::find_if(is.begin(), is.end(), [&before](const Spec& now) { return now.id == before.id; });
        placed.push_back(same != is.end() ? std::move(*same) : before);
        if (same != is.end()) {
            is.erase(same);
        }
    }
    std::move(is.begin(), is.end(), std::back_inserter(placed));
    return placed;
}

} // namespace

bool keeps_places(const Arsenal& was, const Arsenal& is) {
    bool keeps = true;
    detail::visit_sections(
        [&]<class Spec>(const char*, const std::vector<Spec>& before) {
            const std::vector<Spec>& now = list_of<Spec>(is);
            keeps &= before.size() <= now.size() &&
                     std::equal(before.begin(), before.end(), now.begin(),
                                [](const Spec& one, const Spec& other) { return one.id == other.id; });
        },
        was);
    return keeps;
}

Arsenal with_places_of(const Arsenal& was, Arsenal is) {
    detail::visit_sections(
        [&]<class Spec>(const char*, std::vector<Spec>& now) {
            now = in_places_of(list_of<Spec>(was), std::move(now));
        },
        is);
    assign_ammo(is);
    resolve_references(is);
    return is;
}

} // namespace avrek
