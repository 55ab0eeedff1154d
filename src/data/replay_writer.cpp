#include "background.h"
#include "replay_chunk.h"
#include "replay_parts.h"
#include "replay_records.h"
#include "replay_sink.h"
#include "reused.h"
#include <avrek/data/replay_file.h>
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/blended_poses.h>

#define XXH_INLINE_ALL
#include <xxhash.h>

#include <algorithm>
#include <bit>
#include <cstring>
#include <filesystem>
#include <memory>
#include <utility>

namespace avrek {

namespace {

static_assert(std::endian::native == std::endian::little, "replay files are written as memory is");

constexpr detail::Background::Patience patience{5}; // with a disk that takes nothing
constexpr const char* identifier = "AVRP";

// Returns the offset of a list in the builder; 0 without elements.
template <class Element>
auto put(flatbuffers::FlatBufferBuilder& builder, const std::vector<Element>& list) {
    if constexpr (std::is_same_v<Element, record::IntentRecord>) {
        return list.empty() ? 0 : builder.CreateVectorOfStructs(list);
    } else {
        return list.empty() ? 0 : builder.CreateVector(list);
    }
}

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
    detail::Background background; // hashes, packs and writes
    detail::Reused<detail::ReplayChunk> chunks;
    detail::Reused<detail::KeptFight> fights;
    std::shared_ptr<detail::ReplayChunk> making = chunks.take();
    Tick first = 0; // tick of the chunk
    std::vector<std::uint32_t> leavers;
    std::vector<std::uint8_t> order; // 0: a leaver, 1: an entrant, 2: a step
    std::vector<flatbuffers::Offset<record::TuningRecord>> tuning;
    std::vector<flatbuffers::Offset<record::EntrantRecord>> entrants;
    detail::ReplayIntents intents;
    std::vector<std::uint8_t> companion; // its state as it was last recorded
    std::vector<BodyId> recorded;        // combatants that the recording has, in order
    std::optional<BodyId> missing;       // the first one that it lacks
    bool is_stuck = false;               // the disk takes nothing

    ~Writing() { static_cast<void>(wait_for_disk()); }

    // Waits until all is written. Returns false if the disk takes nothing: it is left alone then.
    bool wait_for_disk() {
        const bool is_written = !is_stuck && background.finish(patience);
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

    void note_recorded(BodyId who) {
        const auto place = std::lower_bound(recorded.begin(), recorded.end(), who);
        if (place == recorded.end() || *place != who) {
            recorded.insert(place, who);
        }
    }

    // Looks whether everybody in the fight has been recorded.
    void look_for_missing(const Skirmish& skirmish, std::span<const GameAction> actions) {
        for (const GameAction& action : actions) {
            if (const auto* enter = std::get_if<EnterAction>(&action.what)) {
                note_recorded(enter->who);
            }
        }
        auto known = recorded.begin();
        for (const Fighter& fighter : skirmish.fighters()) {
            while (known != recorded.end() && *known < fighter.id) {
                ++known;
            }
            if (!missing && (known == recorded.end() || *known != fighter.id)) {
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

    // Writes what `finish` makes of the part, beside the tick, and begins the next one.
    template <class Finish>
    void write_part(record::Part kind, Finish finish) {
        do_beside([full = std::exchange(making, chunks.take()), to = sink, kind, finish] {
            full->builder.Finish(record::CreateRecord(full->builder, kind, finish(*full)), identifier);
            to->write_part({full->builder.GetBufferPointer(), full->builder.GetSize()});
            full->clear();
        });
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
        write_part(record::Part_Head, [part](detail::ReplayChunk&) { return part.Union(); });
    }

    // A combatant that is placed or enters does not repeat its last intent.
    void forget_placed(std::span<const GameAction> actions) {
        for (const GameAction& action : actions) {
            const auto* place = std::get_if<PlaceAction>(&action.what);
            const auto* enter = std::get_if<EnterAction>(&action.what);
            const BodyId who = place != nullptr ? place->who : enter != nullptr ? enter->who : nobody;
            intents.forget(who);
        }
    }

    // Has the fight's hashes made beside the tick, and its fields.
    void look_beside(const Skirmish& skirmish, bool hashes, bool fields) {
        const std::shared_ptr<detail::KeptFight> kept = fights.take();
        kept->keep(skirmish);
        if (hashes) {
            making->expect_hashes(*kept);
        }
        do_beside([kept, chunk = making, hashes, fields] {
            if (hashes) {
                chunk->add_hashes(*kept);
            }
            if (fields) {
                chunk->add_fields(*kept);
            }
        });
    }

    void finish_chunk() {
        const auto size = static_cast<Tick>(making->ticks.size());
        write_part(record::Part_Chunk,
                   [begin = first](detail::ReplayChunk& chunk) { return chunk.finish(begin).Union(); });
        first += size;
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
    const record::Point at = detail::point(entrant.at.value_or(Vector3(Vector3::Zero())));
    const std::string melee = entrant.melee ? arsenal[*entrant.melee].id : "";
    to.order.push_back(1);
    to.note_recorded(entrant.id);
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
        std::erase(writing_->recorded, id);
        writing_->intents.forget(id);
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
    const std::vector<record::IntentRecord>& changed = to.intents.changed(intents);
    to.look_for_missing(skirmish, actions);
    const auto placed = detail::records_of(to.builder(), updates);
    const auto acted = detail::records_of(to.builder(), actions);
    const bool has_news = to.note_companion(skirmish.companion());
    const bool usual = std::is_sorted(to.order.begin(), to.order.end());
    auto& builder = to.builder();
    detail::ReplayTickOffsets& made = to.making->ticks.emplace_back();
    made.leavers = put(builder, to.leavers);
    made.entrants = put(builder, to.entrants);
    made.order = usual ? 0 : put(builder, to.order);
    made.intents = put(builder, changed);
    to.intents.note(skirmish);
    made.body_updates = put(builder, placed);
    made.actions = put(builder, acted);
    made.companion = has_news ? put(builder, to.companion) : 0;
    made.tuning = put(builder, to.tuning);
    made.is_hashed = skirmish.tick() % to.settings.hash_every == 0;
    to.leavers.clear();
    to.entrants.clear();
    to.order.clear();
    to.tuning.clear();
    const bool ends = static_cast<std::int32_t>(to.making->ticks.size()) >= to.settings.fields_every;
    if (made.is_hashed || ends) {
        to.look_beside(skirmish, made.is_hashed, ends);
    }
    if (ends || to.making->size() > detail::max_replay_part / 4) { // many bodies with many joints
        to.finish_chunk();
    }
    return to.is_well();
}

std::vector<Diagnostic> ReplayWriter::close() {
    if (!writing_) {
        return {};
    }
    Writing& to = *writing_;
    if (!to.making->ticks.empty() && to.is_well()) {
        to.finish_chunk();
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
