#include <avrek/weapon/weapon_events.h>

namespace avrek {

std::string_view to_string(WeaponEventKind kind) {
    switch (kind) {
    case WeaponEventKind::shot:
        return "shot";
    case WeaponEventKind::dry_fire:
        return "dry fire";
    case WeaponEventKind::trigger_refused:
        return "trigger refused";
    case WeaponEventKind::charge_started:
        return "charge started";
    case WeaponEventKind::charge_dropped:
        return "charge dropped";
    case WeaponEventKind::mode_changed:
        return "mode changed";
    case WeaponEventKind::mode_refused:
        return "mode refused";
    case WeaponEventKind::overheated:
        return "overheated";
    case WeaponEventKind::cooled:
        return "cooled";
    case WeaponEventKind::reload_started:
        return "reload started";
    case WeaponEventKind::rounds_loaded:
        return "rounds loaded";
    case WeaponEventKind::reload_finished:
        return "reload finished";
    case WeaponEventKind::reload_cancelled:
        return "reload cancelled";
    case WeaponEventKind::reload_refused:
        return "reload refused";
    case WeaponEventKind::raise_started:
        return "raise started";
    case WeaponEventKind::raised:
        return "raised";
    case WeaponEventKind::stow_started:
        return "stow started";
    case WeaponEventKind::stowed:
        return "stowed";
    case WeaponEventKind::swap_refused:
        return "swap refused";
    }
    return "unknown";
}

std::string_view to_string(WeaponRefusal refusal) {
    switch (refusal) {
    case WeaponRefusal::none:
        return "nothing";
    case WeaponRefusal::cycling:
        return "cycling";
    case WeaponRefusal::winding_up:
        return "winding up";
    case WeaponRefusal::empty:
        return "empty";
    case WeaponRefusal::too_hot:
        return "too hot";
    case WeaponRefusal::reloading:
        return "reloading";
    case WeaponRefusal::magazine_full:
        return "magazine full";
    case WeaponRefusal::reserve_empty:
        return "reserve empty";
    case WeaponRefusal::no_magazine:
        return "no magazine";
    case WeaponRefusal::one_mode:
        return "one mode only";
    case WeaponRefusal::raising:
        return "raising";
    case WeaponRefusal::put_away:
        return "put away";
    case WeaponRefusal::no_weapon:
        return "no weapon there";
    case WeaponRefusal::sprinting:
        return "sprinting";
    case WeaponRefusal::sprint_out:
        return "sprint-out";
    case WeaponRefusal::striking:
        return "striking";
    case WeaponRefusal::stunned:
        return "stunned";
    case WeaponRefusal::forbidden:
        return "forbidden";
    case WeaponRefusal::airborne:
        return "airborne";
    case WeaponRefusal::triggered:
        return "trigger";
    case WeaponRefusal::let_go:
        return "let go";
    }
    return "unknown";
}

} // namespace avrek
