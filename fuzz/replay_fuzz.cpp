// Any bytes, as a replay: a diagnostic, or ticks that can be played. The first byte says whether they stand
// in for a whole file or for a part that was packed with care, whose checks are right.
#include "../src/data/replay_parts.h"
#include "../tests/digest/bots_fight.h"
#include <avrek/data/replay_file.h>

#define XXH_INLINE_ALL
#include <xxhash.h>
#include <zstd.h>

#include <cstddef>
#include <cstdint>
#include <cstring>

using namespace avrek;

namespace {

void append(std::vector<std::byte>& to, const void* from, std::size_t size) {
    const auto* bytes = static_cast<const std::byte*>(from);
    to.insert(to.end(), bytes, bytes + size);
}

// A part with these bytes in it, as a hostile writer would make it.
void append_part(std::vector<std::byte>& to, std::span<const std::byte> plain) {
    std::vector<std::byte> packed(ZSTD_compressBound(plain.size()));
    const std::size_t size = ZSTD_compress(packed.data(), packed.size(), plain.data(), plain.size(), 1);
    const std::uint32_t sizes[2] = {static_cast<std::uint32_t>(size),
                                    static_cast<std::uint32_t>(plain.size())};
    const std::uint64_t check = XXH3_64bits(packed.data(), size);
    append(to, sizes, sizeof sizes);
    append(to, &check, sizeof check);
    append(to, packed.data(), size);
}

void play(std::span<const std::byte> file) {
    static const Arsenal& arsenal = trial::bots_arsenal();
    ReplayReader reader;
    if (!reader.open(file, "fuzz.replay").empty()) {
        return;
    }
    SkirmishSettings settings = reader.head().settings;
    settings.limits.combatants = std::min<std::size_t>(settings.limits.combatants, 64);
    settings.projectiles = 64;
    settings.history_frames = 4;
    Skirmish fight{arsenal, trial::bots_level(), settings, reader.head().seed, trial::bots_plan()};
    std::vector<Diagnostic> faults;
    int ticks = 0;
    while (const auto chunk = reader.next(faults)) {
        for (const ReplayTick& tick : chunk->ticks) {
            if (++ticks > 200) {
                return;
            }
            avrek::play(tick, fight);
        }
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
    if (size < 3) {
        return 0;
    }
    const std::span<const std::byte> rest = std::as_bytes(std::span{bytes, size}).subspan(1);
    if (bytes[0] % 2 == 0) {
        play(rest);
        return 0;
    }
    // Two parts: a head, and what follows it.
    std::vector<std::byte> file;
    append(file, detail::replay_mark, sizeof detail::replay_mark);
    const std::uint32_t version[2] = {detail::replay_version, 0};
    append(file, version, sizeof version);
    const std::size_t cut = rest.size() * (bytes[0] / 2) / 128;
    append_part(file, rest.first(cut));
    append_part(file, rest.subspan(cut));
    play(file);
    return 0;
}
