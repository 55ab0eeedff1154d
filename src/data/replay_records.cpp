#include "replay_records.h"

#include "../skirmish/action_record.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>

namespace avrek::detail {

namespace {

record::IntentRecord record_of(const Intent& intent) {
    return {flatbuffers::span<const std::uint64_t, 4>{intent.game.words.data(), 4},
            static_cast<std::uint32_t>(intent.who),
            intent.press_offset,
            intent.yaw,
            intent.pitch,
            intent.ahead,
            intent.left,
            static_cast<std::uint32_t>(intent.spotted),
            static_cast<std::uint32_t>(intent.lost_sight_of),
            intent.view_delay,
            intent.buttons.bits(),
            intent.slot,
            intent.strike};
}

// Intents are compared by their bits: any are allowed. They have no gaps.
static_assert(sizeof(Intent) == sizeof(record::IntentRecord));
bool same(const Intent& one, const Intent& other) {
    using Bits = std::array<std::uint8_t, sizeof one>;
    return std::bit_cast<Bits>(one) == std::bit_cast<Bits>(other);
}

} // namespace

record::Point point(const Vector3& at) {
    return {at.x(), at.y(), at.z()};
}

std::vector<flatbuffers::Offset<record::BodyUpdateRecord>> records_of(flatbuffers::FlatBufferBuilder& builder,
                                                                      std::span<const BodyUpdate> updates) {
    std::vector<flatbuffers::Offset<record::BodyUpdateRecord>> records;
    for (const BodyUpdate& update : updates) {
        std::vector<record::PoseRecord> poses;
        for (const Pose& pose : update.poses) {
            const Rotation& turn = pose.rotation;
            poses.push_back({point(pose.position), {turn.x(), turn.y(), turn.z(), turn.w()}});
        }
        const record::Point position = point(update.position);
        const record::Point velocity = point(update.velocity);
        records.push_back(record::CreateBodyUpdateRecordDirect(
            builder, static_cast<std::uint32_t>(update.who), &position, &velocity, update.yaw,
            update.airborne, update.teleported, &poses));
    }
    return records;
}

std::vector<flatbuffers::Offset<record::ActionRecord>> records_of(flatbuffers::FlatBufferBuilder& builder,
                                                                  std::span<const GameAction> actions) {
    std::vector<flatbuffers::Offset<record::ActionRecord>> records;
    for (const GameAction& action : actions) {
        const std::vector<std::uint64_t> words = words_of(action.what);
        records.push_back(record::CreateActionRecordDirect(
            builder, action.at.time_since_epoch().count(), static_cast<std::uint32_t>(action.by), action.tag,
            static_cast<std::uint8_t>(action.what.index()), &words));
    }
    return records;
}

const std::vector<record::IntentRecord>& ReplayIntents::changed(std::span<const Intent> intents) {
    changed_.clear();
    said_.clear();
    auto known = last_.begin(); // intents come by id as a rule
    for (const Intent& intent : intents) {
        const bool is_new = said_.empty() || said_.back() < intent.who;
        const auto place = is_new ? said_.end() : std::lower_bound(said_.begin(), said_.end(), intent.who);
        if (place != said_.end() && *place == intent.who) {
            continue;
        }
        said_.insert(place, intent.who);
        if (known == last_.end() || known->who != intent.who) {
            known = std::lower_bound(last_.begin(), last_.end(), intent.who,
                                     [](const Intent& one, BodyId wanted) { return one.who < wanted; });
        }
        const bool is_known = known != last_.end() && known->who == intent.who;
        if (!is_known || !same(*known, intent)) {
            changed_.push_back(record_of(intent));
        }
        known += is_known ? 1 : 0;
    }
    return changed_;
}

void ReplayIntents::forget(BodyId who) {
    std::erase_if(last_, [who](const Intent& one) { return one.who == who; });
}

void ReplayIntents::note(const Skirmish& skirmish) {
    last_.clear();
    for (const Fighter& fighter : skirmish.fighters()) {
        last_.push_back(repeated(fighter.intent));
    }
}

} // namespace avrek::detail
