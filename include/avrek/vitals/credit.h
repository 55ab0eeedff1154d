#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>

#include <array>
#include <cstddef>

/// Damage credit: the sources that damaged a body in its present life.
namespace avrek {

/// Damage by one source.
struct Credit {
    BodyId source = nobody;
    double damage = 0.0; ///< health and defence points in this life
    Time last{};
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Credit> auto& credit) {
    field("source", credit.source);
    field("damage", credit.damage);
    field("last", credit.last);
}

/// The sources of one life. Trivially copyable. Beyond `max_sources`, the one with the least damage is
/// dropped.
struct Credits {
    static constexpr std::size_t max_sources = 16;

    std::array<Credit, max_sources> sources{}; ///< unordered; the first `count` are valid
    std::size_t count = 0;

    /// First source.
    const Credit* begin() const { return sources.data(); }
    /// End of the sources.
    const Credit* end() const { return sources.data() + count; }
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Credits> auto& credits) {
    field("count", credits.count);
    field.list("sources", credits.sources, credits.count);
}

/// Adds `damage` by `source` at `at`; nobody gets no credit.
void add_credit(Credits& credits, BodyId source, double damage, Time at);

/// Returns the last source that did damage, not before `since`; nobody if there is none. Of several at the
/// same time, the lowest id.
BodyId last_source(const Credits& credits, Time since);

} // namespace avrek
