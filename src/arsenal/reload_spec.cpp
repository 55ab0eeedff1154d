#include <avrek/arsenal/reload_spec.h>

namespace avrek {

std::string_view to_string(ReloadStyle style) {
    return style == ReloadStyle::magazine ? "magazine" : "rounds";
}

} // namespace avrek
