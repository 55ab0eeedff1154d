#include <avrek/skirmish/skirmish_events.h>

namespace avrek {

std::string_view to_string(Verdict verdict) {
    switch (verdict) {
    case Verdict::stands:
        return "stands";
    case Verdict::gone:
        return "gone";
    case Verdict::covered:
        return "behind cover";
    case Verdict::late:
        return "late";
    }
    return "";
}

std::string_view to_string(EventKind kind) {
    switch (kind) {
    case EventKind::shot:
        return "shot";
    case EventKind::segment:
        return "segment";
    case EventKind::flight:
        return "flight";
    case EventKind::blast:
        return "blast";
    case EventKind::weapon:
        return "weapon";
    case EventKind::swing:
        return "swing";
    case EventKind::match:
        return "match";
    case EventKind::spawn:
        return "spawn";
    }
    return "unknown";
}

void SkirmishEvents::clear() {
    order.clear();
    shots.clear();
    segments.clear();
    flights.clear();
    blasts.clear();
    weapons.clear();
    swings.clear();
    match.clear();
    spawns.clear();
    disregarded = 0;
}

void SkirmishEvents::reserve(std::size_t each) {
    order.reserve(4 * each);
    shots.reserve(each);
    segments.reserve(2 * each);
    flights.reserve(2 * each);
    blasts.reserve(each);
    weapons.reserve(each);
    swings.reserve(each);
    match.reserve(2 * each);
    spawns.reserve(each);
}

} // namespace avrek
