#include <avrek/arsenal/arsenal.h>

namespace avrek {

namespace {

template <class Spec>
const Spec* find_by_id(const std::vector<Spec>& specs, std::string_view id) {
    for (const Spec& spec : specs) {
        if (spec.id == id) {
            return &spec;
        }
    }
    return nullptr;
}

} // namespace

const WeaponSpec* find_weapon(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.weapons, id);
}

const BodySpec* find_body(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.bodies, id);
}

} // namespace avrek
