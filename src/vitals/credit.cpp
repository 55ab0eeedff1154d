#include <avrek/vitals/credit.h>

#include <algorithm>

namespace avrek {

void add_credit(Credits& credits, BodyId source, double damage, Time at) {
    if (source == nobody || !(damage > 0.0)) {
        return;
    }
    auto* const end = credits.sources.data() + credits.count;
    auto* found = std::find_if(credits.sources.data(), end,
                               [&](const Credit& credit) { return credit.source == source; });
    if (found == end) {
        if (credits.count < Credits::max_sources) {
            ++credits.count;
        } else {
            found = std::min_element(credits.sources.data(), end,
                                     [](const Credit& a, const Credit& b) { return a.damage < b.damage; });
        }
        *found = {source, 0.0, at};
    }
    found->damage += damage;
    found->last = at;
}

BodyId last_source(const Credits& credits, Time since) {
    const Credit* last = nullptr;
    for (const Credit& credit : credits) {
        const bool later = last == nullptr || credit.last > last->last ||
                           (credit.last == last->last && credit.source < last->source);
        if (credit.last >= since && later) {
            last = &credit;
        }
    }
    return last != nullptr ? last->source : nobody;
}

} // namespace avrek
