#include <avrek/core/state_bytes.h>
#include <avrek/core/state_delta.h>

#include <algorithm>
#include <cstdint>

namespace avrek {

namespace {

constexpr std::size_t min_same = 8; // shorter runs of equal bytes are not worth their lengths

// Seven bits in each byte, the lowest first (as DWARF's LEB128).
void put_number(std::vector<std::byte>& to, std::uint64_t number) {
    for (; number >= 128; number >>= 7U) {
        to.push_back(static_cast<std::byte>(number % 128 + 128));
    }
    to.push_back(static_cast<std::byte>(number));
}

bool get_number(std::span<const std::byte> from, std::size_t& at, std::uint64_t& number) {
    number = 0;
    for (unsigned shift = 0; shift < 64 && at < from.size(); shift += 7) {
        const auto byte = std::to_integer<std::uint64_t>(from[at]);
        ++at;
        number |= (byte & 127U) << shift;
        if (byte < 128) {
            return true;
        }
    }
    return false;
}

} // namespace

// The size of `before` and of `after` and the check of `before`; then, again and again, how many bytes are
// the same and how many come anew, and these.
std::vector<std::byte> make_delta(std::span<const std::byte> before, std::span<const std::byte> after) {
    std::vector<std::byte> delta;
    put_number(delta, before.size());
    put_number(delta, after.size());
    put_number(delta, bytes_check(before));
    const std::size_t both = std::min(before.size(), after.size());
    std::size_t at = 0;
    while (at < after.size()) {
        std::size_t same = at;
        while (same < both && before[same] == after[same]) {
            ++same;
        }
        std::size_t end = same;
        std::size_t equal = 0; // at the end of what is anew
        while (end < after.size() && equal < min_same) {
            equal = end < both && before[end] == after[end] ? equal + 1 : 0;
            ++end;
        }
        end -= equal == min_same ? equal : 0;
        put_number(delta, same - at);
        put_number(delta, end - same);
        delta.insert(delta.end(), after.begin() + static_cast<std::ptrdiff_t>(same),
                     after.begin() + static_cast<std::ptrdiff_t>(end));
        at = end;
    }
    return delta;
}

std::optional<std::vector<std::byte>> apply_delta(std::span<const std::byte> before,
                                                  std::span<const std::byte> delta, std::size_t most) {
    std::size_t at = 0;
    std::uint64_t size_before = 0;
    std::uint64_t size = 0;
    std::uint64_t check = 0;
    if (!get_number(delta, at, size_before) || !get_number(delta, at, size) ||
        !get_number(delta, at, check) || size_before != before.size() || size > most ||
        check != bytes_check(before)) {
        return std::nullopt;
    }
    std::vector<std::byte> after;
    while (after.size() < size) {
        std::uint64_t same = 0;
        std::uint64_t anew = 0;
        const bool fits = get_number(delta, at, same) && get_number(delta, at, anew) && same + anew > 0 &&
                          same <= before.size() - std::min(before.size(), after.size()) &&
                          anew <= delta.size() - at && same + anew <= size - after.size();
        if (!fits) {
            return std::nullopt;
        }
        const auto from = before.begin() + static_cast<std::ptrdiff_t>(after.size());
        after.insert(after.end(), from, from + static_cast<std::ptrdiff_t>(same));
        const auto fresh = delta.begin() + static_cast<std::ptrdiff_t>(at);
        after.insert(after.end(), fresh, fresh + static_cast<std::ptrdiff_t>(anew));
        at += anew;
    }
    return at == delta.size() ? std::optional{std::move(after)} : std::nullopt;
}

} // namespace avrek
