#include <avrek/core/random.h>

// The core compiles without exceptions, so the package must not throw; nothing that could is called.
#define R123_USE_SSE 0
#define R123_THROW(error) __builtin_trap()
#include <Random123/philox.h>

namespace avrek {

namespace {

double unit_number(std::uint32_t high, std::uint32_t low) {
    const std::uint64_t bits = (static_cast<std::uint64_t>(high) << 21U) ^ (low >> 11U);
    return static_cast<double>(bits) * 0x1p-53;
}

} // namespace

std::array<std::uint32_t, 4> random_words(const RandomKey& key) {
    using Generator = r123::Philox4x32;
    const Generator::ctr_type counter{
        {key.combatant, static_cast<std::uint32_t>(key.purpose), key.shot, key.block}};
    const Generator::key_type seed{
        {static_cast<std::uint32_t>(key.seed), static_cast<std::uint32_t>(key.seed >> 32U)}};
    const Generator::ctr_type words = Generator{}(counter, seed);
    return {words[0], words[1], words[2], words[3]};
}

std::array<double, 2> random_pair(const RandomKey& key) {
    const std::array<std::uint32_t, 4> words = random_words(key);
    return {unit_number(words[0], words[1]), unit_number(words[2], words[3])};
}

} // namespace avrek
