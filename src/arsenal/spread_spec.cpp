#include <avrek/arsenal/spread_spec.h>

namespace avrek {

std::string_view to_string(SpreadShape shape) {
    return shape == SpreadShape::uniform ? "uniform" : "centred";
}

} // namespace avrek
