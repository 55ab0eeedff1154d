#pragma once
// All bodies of a moment, as they are offered to a receiver that has others.
#include "snapshot_bodies.h"

#include <algorithm>
#include <deque>
#include <span>
#include <vector>

namespace avrek::trial {

struct OfferedBodies {
    std::vector<BodyId> had{};
    std::deque<detail::PackedChange> changes{};
    std::vector<detail::BodyOffer> offers{};

    OfferedBodies(std::span<const detail::SeenBody> before, std::span<const detail::SeenBody> now) {
        for (const detail::SeenBody& body : before) {
            had.push_back(body.id);
        }
        for (const detail::SeenBody& body : now) {
            const auto there = std::find_if(before.begin(), before.end(),
                                            [&body](const auto& one) { return one.id == body.id; });
            const bool is_new = there == before.end();
            changes.push_back(detail::packed_change(is_new ? detail::SeenBody{.id = body.id} : *there, body));
            offers.push_back({.id = body.id, .change = &changes.back(), .is_new = is_new});
        }
    }
};

} // namespace avrek::trial
