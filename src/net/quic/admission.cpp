#include "admission.h"

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr std::size_t max_prefixes = 4096;
constexpr Duration forgotten_after = std::chrono::seconds{2}; // by then an allowance is whole again

} // namespace

bool Admission::take(const NetAddress& from, Time now) {
    const NetAddress prefix = prefix_of(from);
    auto found = prefixes_.find(prefix);
    if (found == prefixes_.end()) {
        if (prefixes_.size() >= max_prefixes) {
            std::erase_if(prefixes_,
                          [now](const auto& one) { return now - one.second.at > forgotten_after; });
        }
        if (prefixes_.size() >= max_prefixes) {
            return false;
        }
        found = prefixes_.emplace(prefix, Allowance{per_second_, now}).first;
    }
    Allowance& allowance = found->second;
    allowance.left = std::min(per_second_, allowance.left + per_second_ * to_seconds(now - allowance.at));
    allowance.at = now;
    if (allowance.left < 1.0) {
        return false;
    }
    allowance.left -= 1.0;
    return true;
}

} // namespace avrek::detail
