#include "key_making.h"

namespace avrek::detail {

const std::vector<Key<SurfaceSpec>>& surface_keys() {
    static const std::vector<Key<SurfaceSpec>> keys = [] {
        Rows<SurfaceSpec> rows{"surface"};
        rows.like();
        rows.number("restitution", {0.0, 1.0, false}, "", "0.3",
                    "Share of the normal speed that a bounce keeps.",
                    [](SurfaceSpec& surface, double value) { surface.restitution = value; });
        rows.number("friction", {0.0, 1.0, false}, "", "0.2",
                    "Share of the tangential speed that a bounce loses.",
                    [](SurfaceSpec& surface, double value) { surface.friction = value; });
        rows.number("grazing_angle", {0.0, 90.0, false}, "degrees", "90",
                    "Maximum angle between path and surface for a bounce.",
                    [](SurfaceSpec& surface, double value) { surface.grazing_angle = from_degrees(value); });
        rows.number("resistance", {0.0, 1e6, false}, "energy/m", "1000",
                    "Energy that each metre costs a piercing shot.",
                    [](SurfaceSpec& surface, double value) { surface.resistance = value; });
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
