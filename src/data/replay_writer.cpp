#include "../skirmish/action_record.h"
#include "background.h"
#include "replay_generated.h"
#include "replay_parts.h"
#include "replay_sink.h"
#include <avrek/data/replay_file.h>
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/blended_poses.h>

#define XXH_INLINE_ALL
#include <xxhash.h>

#include <algorithm>
#include <atomic>
#include <bit>
#include <cstring>
#include <filesystem>
#include <memory>
#include <set>

namespace avrek {

namespace {

static_assert(std::endian::native == std::endian::little, "replay files are written as memory is");

constexpr detail::Background::Patience patience{5}; // with a disk that takes nothing
constexpr const char* identifier = "AVRP";

record::Point point(const Vector3& at) {
    return {at.x(), at.y(), at.z()};
}

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

// Intents are compared by their bits: any are allowed.
bool same(const record::IntentRecord& one, const record::IntentRecord& other) {
    return std::memcmp(&one, &other, sizeof one) == 0;
}

// The part of a file that is being made. Its memory is used again: that which is new costs page faults.
struct PartBuffer {
    flatbuffers::FlatBufferBuilder builder{1U << 16U};
    std::atomic<bool> is_free = true;
};

} // namespace

std::uint32_t replay_name(std::string_view field) {
    return static_cast<std::uint32_t>(XXH3_64bits(field.data(), field.size()));
}

ReplayHead head_of(const Skirmish& skirmish, const ArsenalDigest& arsenal, std::string level_name,
                   std::string made_by) {
    ReplayHead head;
    head.made_by = std::move(made_by);
    head.arsenal = arsenal;
    head.level_name = std::move(level_name);
    head.level = digest_of(skirmish.scene().level());
    head.rules = skirmish.match().rules().id;
    head.seed = skirmish.seed();
    head.settings = skirmish.settings();
    head.locomotions = names_of(head.settings.locomotions);
    head.poses = name_of(pose_source_or_built_in(head.settings.poses));
    return head;
}

struct ReplayWriter::Writing {
    std::filesystem::path name;
    ReplaySettings settings;
    std::shared_ptr<detail::ReplaySink> sink;
    detail::Background background; // packs and writes
    std::shared_ptr<PartBuffer> making = std::make_shared<PartBuffer>();
    std::shared_ptr<PartBuffer> spare = std::make_shared<PartBuffer>();
    std::vector<flatbuffers::Offset<record::TickRecord>> ticks;
    Tick first = 0;
    std::vector<std::uint32_t> leavers;
    std::vector<std::uint8_t> order; // 0: a leaver, 1: an entrant, 2: a step
    std::vector<flatbuffers::Offset<record::TuningRecord>> tuning;
    std::vector<flatbuffers::Offset<record::EntrantRecord>> entrants;
    std::vector<record::IntentRecord> last; // what everybody repeats without an intent, by id
    std::vector<BodyId> said;               // who has an intent in this tick, by id
    std::vector<std::uint8_t> companion;    // its state as it was last recorded
    std::set<BodyId> recorded;              // combatants that the recording has
    std::optional<BodyId> missing;          // the first one that it lacks
    bool is_stuck = false;                  // the disk takes nothing

    ~Writing() { static_cast<void>(wait_for_disk()); }

    // Waits until all is written. Returns false if the disk takes nothing: it is left alone then.
    bool wait_for_disk() {
        const bool is_written = background.finish(patience);
        if (!is_written) {
            is_stuck = true;
            background.abandon();
        }
        return is_written;
    }
    void do_beside(std::function<void()> job) {
        is_stuck = is_stuck || !background.add(std::move(job), patience);
    }
    bool is_well() const { return !is_stuck && sink->fault() == 0; }

    // Looks whether everybody in the fight has been recorded.
    void look_for_missing(const Skirmish& skirmish, std::span<const GameAction> actions) {
        for (const GameAction& action : actions) {
            if (const auto* enter = std::get_if<EnterAction>(&action.what)) {
                recorded.insert(enter->who);
            }
        }
        for (const Fighter& fighter : skirmish.fighters()) {
            if (!missing && !recorded.contains(fighter.id)) {
                missing = fighter.id;
            }
        }
    }

    // Returns whether the state of the game's own has changed.
    bool note_companion(const CompanionState* now) {
        std::vector<std::uint8_t> state(now != nullptr ? now->size() : 0);
        if (now != nullptr) {
            now->save(std::as_writable_bytes(std::span{state}));
        }
        const bool changed = state != companion;
        companion = std::move(state);
        return changed && !companion.empty();
    }

    flatbuffers::FlatBufferBuilder& builder() { return making->builder; }

    void finish_part(record::Part kind, flatbuffers::Offset<void> value) {
        builder().Finish(record::CreateRecord(builder(), kind, value), identifier);
        making->is_free = false;
        do_beside([full = making, to = sink] {
            to->write_part({full->builder.GetBufferPointer(), full->builder.GetSize()});
            full->builder.Clear();
            full->is_free = true;
        });
        making.swap(spare);
        if (!making->is_free) {
            making = std::make_shared<PartBuffer>();
        }
    }

    void write_head(const ReplayHead& head) {
        std::vector<flatbuffers::Offset<record::EntryDigest>> entries;
        for (const EntryDigest& entry : head.arsenal.entries) {
            entries.push_back(record::CreateEntryDigestDirect(builder(), entry.name.c_str(), entry.digest));
        }
        const SkirmishSettings& set = head.settings;
        std::vector<flatbuffers::Offset<flatbuffers::String>> locomotions;
        for (const std::string& one : head.locomotions) {
            locomotions.push_back(builder().CreateString(one));
        }
        const auto part = record::CreateHeadDirect(
            builder(), head.made_by.c_str(), head.arsenal.whole, &entries, head.level_name.c_str(),
            head.level, head.rules.c_str(), head.seed, set.rate.hertz, set.moves_bodies, &locomotions,
            head.poses.c_str(), static_cast<std::uint8_t>(set.muzzle),
            static_cast<std::uint32_t>(set.limits.combatants), static_cast<std::uint32_t>(set.limits.hazards),
            static_cast<std::uint32_t>(set.limits.pickups), static_cast<std::uint32_t>(set.limits.dropped),
            static_cast<std::uint32_t>(set.projectiles), static_cast<std::uint32_t>(set.history_frames),
            set.snapshot_interval, static_cast<std::uint32_t>(set.snapshot_history));
        finish_part(record::Part_Head, part.Union());
    }

    // Intents that do not just repeat the last one; the first counts if a combatant has several.
    std::vector<record::IntentRecord> changed(std::span<const Intent> intents) {
        std::vector<record::IntentRecord> records;
        records.reserve(intents.size());
        said.clear();
        auto known = last.begin(); // intents come by id as a rule
        for (const Intent& intent : intents) {
            const bool is_new = said.empty() || said.back() < intent.who;
            const auto place = is_new ? said.end() : std::lower_bound(said.begin(), said.end(), intent.who);
            if (place != said.end() && *place == intent.who) {
                continue;
            }
            said.insert(place, intent.who);
            const record::IntentRecord made = record_of(intent);
            if (known == last.end() || known->who() != made.who()) {
                known = std::lower_bound(
                    last.begin(), last.end(), made.who(),
                    [](const record::IntentRecord& one, std::uint32_t who) { return one.who() < who; });
            }
            const bool is_known = known != last.end() && known->who() == made.who();
            if (!is_known || !same(*known, made)) {
                records.push_back(made);
            }
            known += is_known ? 1 : 0;
        }
        return records;
    }

    void forget(BodyId who) {
        std::erase_if(last, [who](const record::IntentRecord& one) { return BodyId{one.who()} == who; });
    }

    // A combatant that is placed or enters does not repeat its last intent.
    void forget_placed(std::span<const GameAction> actions) {
        for (const GameAction& action : actions) {
            const auto* place = std::get_if<PlaceAction>(&action.what);
            const auto* enter = std::get_if<EnterAction>(&action.what);
            const BodyId who = place != nullptr ? place->who : enter != nullptr ? enter->who : nobody;
            forget(who);
        }
    }

    // Notes the intents that repeat in the next tick, as the skirmish itself has them.
    void note_last(const Skirmish& skirmish) {
        last.clear();
        for (const Fighter& fighter : skirmish.fighters()) {
            last.push_back(record_of(repeated(fighter.intent)));
        }
    }

    std::vector<flatbuffers::Offset<record::BodyUpdateRecord>>
    records_of(std::span<const BodyUpdate> updates) {
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
                builder(), static_cast<std::uint32_t>(update.who), &position, &velocity, update.yaw,
                update.airborne, update.teleported, &poses));
        }
        return records;
    }

    std::vector<flatbuffers::Offset<record::ActionRecord>> records_of(std::span<const GameAction> actions) {
        std::vector<flatbuffers::Offset<record::ActionRecord>> records;
        for (const GameAction& action : actions) {
            const std::vector<std::uint64_t> words = detail::words_of(action.what);
            records.push_back(record::CreateActionRecordDirect(
                builder(), action.at.time_since_epoch().count(), static_cast<std::uint32_t>(action.by),
                action.tag, static_cast<std::uint8_t>(action.what.index()), &words));
        }
        return records;
    }

    void finish_chunk(const Skirmish* skirmish) {
        flatbuffers::Offset<record::FieldsRecord> fields;
        if (skirmish != nullptr) {
            std::vector<std::uint32_t> names;
            std::vector<std::uint64_t> values;
            visit_named_fields(*skirmish, [&](std::string_view field, std::uint64_t bits) {
                names.push_back(replay_name(field));
                values.push_back(bits);
            });
            fields = record::CreateFieldsRecordDirect(builder(), &names, &values);
        }
        finish_part(record::Part_Chunk, record::CreateChunkDirect(builder(), first, &ticks, fields).Union());
        first += static_cast<Tick>(ticks.size());
        ticks.clear();
    }
};

ReplayWriter::ReplayWriter() = default;
ReplayWriter::~ReplayWriter() = default;
ReplayWriter::ReplayWriter(ReplayWriter&&) noexcept = default;
ReplayWriter& ReplayWriter::operator=(ReplayWriter&&) noexcept = default;

std::vector<Diagnostic> ReplayWriter::open(const std::string& file, const ReplayHead& head,
                                           const ReplaySettings& settings) {
    writing_ = std::make_unique<Writing>();
    writing_->name = file;
    writing_->settings = settings;
    writing_->sink = std::make_shared<detail::ReplaySink>(file);
    writing_->sink->write_start();
    writing_->write_head(head);
    // A file that cannot be written says so at once.
    return writing_->wait_for_disk() && writing_->is_well() ? std::vector<Diagnostic>{} : close();
}

void ReplayWriter::add(const Arsenal& arsenal, const Entrant& entrant) {
    if (!writing_) {
        return;
    }
    Writing& to = *writing_;
    std::vector<flatbuffers::Offset<flatbuffers::String>> weapons;
    for (const WeaponId weapon : entrant.weapons) {
        weapons.push_back(to.builder().CreateString(arsenal[weapon].id));
    }
    const std::vector<std::uint16_t> spawns(entrant.spawns.begin(), entrant.spawns.end());
    const record::Point at = point(entrant.at.value_or(Vector3(Vector3::Zero())));
    const std::string melee = entrant.melee ? arsenal[*entrant.melee].id : "";
    to.order.push_back(1);
    to.recorded.insert(entrant.id);
    to.entrants.push_back(record::CreateEntrantRecordDirect(
        to.builder(), static_cast<std::uint32_t>(entrant.id), static_cast<std::uint8_t>(entrant.team),
        static_cast<std::uint8_t>(entrant.role), arsenal[entrant.body].id.c_str(), melee.c_str(), &weapons,
        &spawns, entrant.at ? &at : nullptr, entrant.yaw,
        entrant.spread_seed ? flatbuffers::Optional<std::uint64_t>{*entrant.spread_seed}
                            : flatbuffers::nullopt));
}

void ReplayWriter::remove(BodyId id) {
    if (writing_) {
        writing_->leavers.push_back(static_cast<std::uint32_t>(id));
        writing_->order.push_back(0);
        writing_->recorded.erase(id);
        writing_->forget(id);
    }
}

void ReplayWriter::retune(const TuningStep& step) {
    if (writing_) {
        const std::vector<std::byte> packed = pack(step);
        writing_->order.push_back(2);
        writing_->tuning.push_back(record::CreateTuningRecord(
            writing_->builder(), writing_->builder().CreateVector(
                                     reinterpret_cast<const std::uint8_t*>(packed.data()), packed.size())));
    }
}

bool ReplayWriter::tick(const Skirmish& skirmish, std::span<const Intent> intents,
                        std::span<const BodyUpdate> updates, std::span<const GameAction> actions) {
    if (!writing_) {
        return false;
    }
    Writing& to = *writing_;
    to.forget_placed(actions);
    const std::vector<record::IntentRecord> changed = to.changed(intents);
    to.note_last(skirmish);
    to.look_for_missing(skirmish, actions);
    const auto placed = to.records_of(updates);
    const auto acted = to.records_of(actions);
    const bool has_news = to.note_companion(skirmish.companion());
    const bool hashed = skirmish.tick() % to.settings.hash_every == 0;
    const std::vector<std::uint16_t> parts = hashed ? part_hashes(skirmish) : std::vector<std::uint16_t>{};
    const bool usual = std::is_sorted(to.order.begin(), to.order.end());
    to.ticks.push_back(record::CreateTickRecordDirect(
        to.builder(), to.leavers.empty() ? nullptr : &to.leavers,
        to.entrants.empty() ? nullptr : &to.entrants, usual ? nullptr : &to.order,
        changed.empty() ? nullptr : &changed, placed.empty() ? nullptr : &placed, hashed,
        hashed ? skirmish.fight_hash() : 0, acted.empty() ? nullptr : &acted,
        has_news ? &to.companion : nullptr, parts.empty() ? nullptr : &parts,
        to.tuning.empty() ? nullptr : &to.tuning));
    to.leavers.clear();
    to.entrants.clear();
    to.order.clear();
    to.tuning.clear();
    if (static_cast<std::int32_t>(to.ticks.size()) >= to.settings.fields_every) {
        to.finish_chunk(&skirmish);
    } else if (to.builder().GetSize() > detail::max_replay_part / 4) {
        to.finish_chunk(nullptr); // many bodies with many joints
    }
    return to.is_well();
}

std::vector<Diagnostic> ReplayWriter::close() {
    if (!writing_) {
        return {};
    }
    Writing& to = *writing_;
    if (!to.ticks.empty() && to.is_well()) {
        to.finish_chunk(nullptr);
    }
    to.do_beside([sink = to.sink] { sink->end(); });
    static_cast<void>(to.wait_for_disk());
    const std::string fault = to.is_stuck             ? "the disk takes nothing"
                              : to.sink->fault() != 0 ? std::strerror(to.sink->fault())
                                                      : "";
    const std::string name = to.name.string();
    const std::optional<BodyId> missing = to.missing;
    writing_.reset();
    std::vector<Diagnostic> faults;
    if (!fault.empty()) {
        faults.push_back({.file = name, .message = "cannot be written: " + fault});
    }
    if (missing) {
        faults.push_back({.file = name,
                          .where = "combatant " + std::to_string(static_cast<std::uint32_t>(*missing)),
                          .message = "is in the fight, but not in the recording, which cannot be played",
                          .allowed = "ReplayWriter::add() with Skirmish::add()"});
    }
    return faults;
}

} // namespace avrek
