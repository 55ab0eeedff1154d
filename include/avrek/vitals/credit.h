#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>

#include <array>
#include <cstddef>

/// Who has hurt a body in its present life, and how much.
namespace avrek {

/// What one source has done.
struct Credit {
    BodyId source = nobody;
    double damage = 0.0; ///< health and points of layers, in this life
    Time last{};
};

/// The sources of one life. Trivially copyable. With more than `most` of them the one that has done least is
/// forgotten.
struct Credits {
    static constexpr std::size_t max_sources = 16;

    std::array<Credit, max_sources> sources{}; ///< in no particular order; the first `count` count
    std::size_t count = 0;

    const Credit* begin() const { return sources.data(); }
    const Credit* end() const { return sources.data() + count; }
};

/// Notes that `source` has done `damage` at `at`; nobody gets no credit.
void add_credit(Credits& credits, BodyId source, double damage, Time at);

/// Who has hurt last, not before `since`; nobody when there is none. Of several at the same moment, the one
/// with the lowest id.
BodyId last_source(const Credits& credits, Time since);

} // namespace avrek
