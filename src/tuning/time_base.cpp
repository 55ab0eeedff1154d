#include <avrek/tuning/time_base.h>

namespace avrek {

std::string_view to_string(TimeBase base) {
    switch (base) {
    case TimeBase::pull:
        return "pull";
    case TimeBase::shot:
        return "shot";
    case TimeBase::hit:
        return "hit";
    case TimeBase::sight:
        return "sight";
    }
    return "unknown";
}

std::string_view words_of(TimeBase base) {
    switch (base) {
    case TimeBase::pull:
        return "the pull of the trigger";
    case TimeBase::shot:
        return "the first shot";
    case TimeBase::hit:
        return "the first hit";
    case TimeBase::sight:
        return "the sight of the target";
    }
    return "unknown";
}

} // namespace avrek
