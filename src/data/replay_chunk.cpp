#include "replay_chunk.h"

#include <avrek/data/replay_file.h>

namespace avrek::detail {

void ReplayChunk::expect_hashes(const KeptFight& fight) {
    constexpr std::size_t max_parts = 64; // a combatant and its fighter have about 33
    hashed_ +=
        sizeof(std::uint16_t) * (max_parts * fight.fighters().size() + fight.match().hazards().size() +
                                 fight.match().pickups().size() + fight.match().dropped().size() + max_parts);
}

void ReplayChunk::add_hashes(const KeptFight& fight) {
    hashes_.push_back({fight.fight_hash(), part_hashes(fight)});
}

void ReplayChunk::add_fields(const KeptFight& fight) {
    visit_named_fields(fight, [this](std::string_view field, std::uint64_t bits) {
        names_.push_back(replay_name(field));
        values_.push_back(bits);
    });
}

flatbuffers::Offset<record::Chunk> ReplayChunk::finish(std::int64_t first) {
    std::vector<flatbuffers::Offset<record::TickRecord>> records;
    auto next = hashes_.begin();
    for (const ReplayTickOffsets& tick : ticks) {
        const Hashes found = tick.is_hashed ? std::move(*next++) : Hashes{};
        const auto parts = tick.is_hashed ? builder.CreateVector(found.parts) : 0;
        records.push_back(record::CreateTickRecord(
            builder, tick.leavers, tick.entrants, tick.order, tick.intents, tick.body_updates, tick.is_hashed,
            found.whole, tick.actions, tick.companion, parts, tick.tuning));
    }
    const auto fields = names_.empty() ? 0 : record::CreateFieldsRecordDirect(builder, &names_, &values_);
    return record::CreateChunkDirect(builder, first, &records, fields);
}

void ReplayChunk::clear() {
    builder.Clear();
    ticks.clear();
    hashed_ = 0;
    hashes_.clear();
    names_.clear();
    values_.clear();
}

} // namespace avrek::detail
