#include <avrek/arsenal/ammo_spec.h>

namespace avrek {

std::string_view to_string(AmmoFeed feed) {
    switch (feed) {
    case AmmoFeed::magazine:
        return "magazine";
    case AmmoFeed::reserve:
        return "reserve";
    case AmmoFeed::heat:
        return "heat";
    case AmmoFeed::cell:
        return "cell";
    }
    return "unknown";
}

std::string_view to_string(AmmoSupply supply) {
    switch (supply) {
    case AmmoSupply::counted:
        return "counted";
    case AmmoSupply::endless_reserve:
        return "endless-reserve";
    case AmmoSupply::endless:
        return "endless";
    }
    return "unknown";
}

} // namespace avrek
