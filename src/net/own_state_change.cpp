#include "own_state.h"

#include <algorithm>
#include <bit>
#include <cassert>

namespace avrek::detail {

namespace {

unsigned width_of(std::uint64_t value) {
    return static_cast<unsigned>(std::bit_width(value));
}

} // namespace

void write_change(BitWriter& to, const std::vector<WordKind>& kinds, const OwnState& before,
                  const OwnState& after) {
    assert(after.words.size() == kinds.size());
    constexpr std::size_t block = 16; // words that are compared at a time: most are the same
    const std::size_t common = std::min(before.words.size(), kinds.size());
    std::size_t same = 0;
    for (std::size_t word = 0; word < kinds.size(); ++word) {
        if (word % block == 0 && word + block <= common &&
            std::equal(&after.words[word], &after.words[word] + block, &before.words[word])) {
            same += block;
            word += block - 1;
            continue;
        }
        const std::uint64_t old = word < before.words.size() ? before.words[word] : 0;
        const std::uint64_t now = after.words[word];
        if (old == now) {
            ++same;
            continue;
        }
        to.small(same + 1, 3);
        same = 0;
        const auto change = static_cast<std::int64_t>(now - old);
        const std::uint64_t bits =
            kinds[word] == WordKind::real
                ? now ^ old
                : static_cast<std::uint64_t>(change) << 1U ^ static_cast<std::uint64_t>(change >> 63U);
        to.bits(width_of(bits) - 1, 6);
        to.bits(bits, width_of(bits) - 1); // its first bit is known
    }
    to.small(0, 3);
    to.finish();
}

OwnState read_change(BitReader& from, const std::vector<WordKind>& kinds, const OwnState& before) {
    OwnState state = before;
    state.words.resize(kinds.size());
    std::size_t word = 0;
    while (from.is_sound()) {
        const std::uint64_t skip = from.small(3);
        if (skip == 0) {
            break;
        }
        if (skip > kinds.size() - word) {
            from.fail(); // there is no such word
            break;
        }
        word += skip;
        const auto width = static_cast<unsigned>(from.bits(6));
        const std::uint64_t bits = from.bits(width) | std::uint64_t{1} << width;
        std::uint64_t& value = state.words[word - 1];
        value = kinds[word - 1] == WordKind::real
                    ? value ^ bits
                    : value + static_cast<std::uint64_t>(static_cast<std::int64_t>(bits >> 1U) ^
                                                         -static_cast<std::int64_t>(bits & 1U));
    }
    return state;
}

} // namespace avrek::detail
