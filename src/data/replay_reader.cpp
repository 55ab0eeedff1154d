#include "../skirmish/action_record.h"
#include "open_file.h"
#include "replay_generated.h"
#include "replay_parts.h"
#include <avrek/data/replay_file.h>
#include <avrek/scene/level_digest.h>

#define XXH_INLINE_ALL
#include <xxhash.h>
#include <zstd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <unordered_map>

namespace avrek {

namespace {

constexpr std::uint32_t max_recorded = 4096;
constexpr std::uint32_t max_things = 4096; // hazards, pickups, dropped weapons: of each
constexpr std::uint32_t max_projectiles = 65536;
constexpr std::uint64_t max_frames = 1U << 18U; // for all combatants together
constexpr std::size_t max_ticks = 1U << 16U;    // per chunk
constexpr std::size_t max_made = 256U << 20U;   // bytes that a chunk may become: parts of it can be shared

std::string text_of(const flatbuffers::String* text) {
    return text != nullptr ? text->str() : std::string{};
}

Vector3 vector_of(const record::Point& point) {
    return {point.x(), point.y(), point.z()};
}

template <class List>
std::size_t size_of(const List* list) {
    return list != nullptr ? list->size() : 0;
}

ReplayEntrant entrant_of(const record::EntrantRecord& from) {
    ReplayEntrant entrant;
    entrant.id = static_cast<BodyId>(from.id());
    entrant.team = static_cast<TeamId>(from.team() % 32);
    entrant.role = from.role() == 0 ? Role::combatant : Role::prop;
    entrant.body = text_of(from.body());
    entrant.melee = text_of(from.melee());
    for (unsigned index = 0; index < size_of(from.weapons()); ++index) {
        entrant.weapons.push_back(text_of(from.weapons()->Get(index)));
    }
    for (unsigned index = 0; index < size_of(from.spawns()); ++index) {
        entrant.spawns.push_back(from.spawns()->Get(index));
    }
    const bool placed =
        from.at() != nullptr && vector_of(*from.at()).allFinite() && std::isfinite(from.yaw());
    if (placed) {
        entrant.at = vector_of(*from.at());
        entrant.yaw = from.yaw();
    }
    if (const auto seed = from.spread_seed(); seed.has_value()) {
        entrant.spread_seed = seed.value();
    }
    return entrant;
}

Intent intent_of(const record::IntentRecord& from) {
    Intent intent;
    std::copy(from.game()->begin(), from.game()->end(), intent.game.words.begin());
    intent.who = static_cast<BodyId>(from.who());
    intent.press_offset = from.press_offset();
    intent.yaw = from.yaw();
    intent.pitch = from.pitch();
    intent.ahead = from.ahead();
    intent.left = from.left();
    intent.spotted = static_cast<BodyId>(from.spotted());
    intent.lost_sight_of = static_cast<BodyId>(from.lost_sight_of());
    intent.view_delay = from.view_delay();
    intent.buttons = Buttons::from_bits(from.buttons());
    intent.slot = from.slot();
    intent.strike = from.strike();
    return intent;
}

bool is_pose(const Pose& pose) {
    return pose.position.allFinite() && std::abs(pose.rotation.squaredNorm() - 1.0) < 1e-6;
}

ReplayBodyUpdate body_update_of(const record::BodyUpdateRecord& from) {
    ReplayBodyUpdate made;
    made.update.who = static_cast<BodyId>(from.who());
    made.update.position =
        from.position() != nullptr ? vector_of(*from.position()) : Vector3(Vector3::Zero());
    made.update.velocity =
        from.velocity() != nullptr ? vector_of(*from.velocity()) : Vector3(Vector3::Zero());
    made.update.yaw = from.yaw();
    made.update.airborne = from.airborne();
    made.update.teleported = from.teleported();
    for (unsigned index = 0; index < size_of(from.poses()); ++index) {
        const record::PoseRecord& pose = *from.poses()->Get(index);
        made.poses.push_back(
            {vector_of(pose.position()),
             Rotation{pose.rotation().w(), pose.rotation().x(), pose.rotation().y(), pose.rotation().z()}});
        if (!is_pose(made.poses.back())) {
            made.poses.clear(); // as the pose source says, then
            break;
        }
    }
    return made;
}

// The bytes that the ticks of a chunk become, as far as they grow with what is recorded.
std::size_t size_made(const record::TickRecord& from) {
    std::size_t size = sizeof(ReplayTick) + sizeof(BodyId) * size_of(from.leavers()) +
                       sizeof(Intent) * size_of(from.intents()) +
                       sizeof(std::uint16_t) * size_of(from.parts()) + size_of(from.order()) +
                       size_of(from.companion());
    for (unsigned index = 0; index < size_of(from.tuning()); ++index) {
        const auto* packed = from.tuning()->Get(index)->packed();
        const unsigned long long plain =
            packed != nullptr ? ZSTD_getFrameContentSize(packed->data(), packed->size()) : 0;
        size += sizeof(TuningStep) + (plain <= max_tuning_bytes ? static_cast<std::size_t>(plain) : 0);
    }
    for (unsigned index = 0; index < size_of(from.entrants()) && size <= max_made; ++index) {
        const record::EntrantRecord& entrant = *from.entrants()->Get(index);
        size += sizeof(ReplayEntrant) + sizeof(std::uint16_t) * size_of(entrant.spawns()) +
                size_of(entrant.body()) + size_of(entrant.melee());
        for (unsigned weapon = 0; weapon < size_of(entrant.weapons()); ++weapon) {
            size += sizeof(std::string) + size_of(entrant.weapons()->Get(weapon));
        }
    }
    for (unsigned index = 0; index < size_of(from.actions()); ++index) {
        size += sizeof(GameAction) + sizeof(std::uint64_t) * size_of(from.actions()->Get(index)->words());
    }
    for (unsigned index = 0; index < size_of(from.body_updates()); ++index) {
        size += sizeof(ReplayBodyUpdate) + sizeof(Pose) * size_of(from.body_updates()->Get(index)->poses());
    }
    return size;
}

ReplayTick tick_of(const record::TickRecord& from) {
    ReplayTick tick;
    for (unsigned index = 0; index < size_of(from.leavers()); ++index) {
        tick.leavers.push_back(static_cast<BodyId>(from.leavers()->Get(index)));
    }
    for (unsigned index = 0; index < size_of(from.entrants()); ++index) {
        tick.entrants.push_back(entrant_of(*from.entrants()->Get(index)));
    }
    for (unsigned index = 0; index < size_of(from.order()); ++index) {
        tick.order.push_back(from.order()->Get(index));
    }
    for (unsigned index = 0; index < size_of(from.intents()); ++index) {
        tick.intents.push_back(intent_of(*from.intents()->Get(index)));
    }
    for (unsigned index = 0; index < size_of(from.body_updates()); ++index) {
        tick.body_updates.push_back(body_update_of(*from.body_updates()->Get(index)));
    }
    for (unsigned index = 0; index < size_of(from.actions()); ++index) {
        const record::ActionRecord& one = *from.actions()->Get(index);
        const auto* list = one.words();
        const auto words = list != nullptr ? std::vector<std::uint64_t>(list->begin(), list->end())
                                           : std::vector<std::uint64_t>{};
        if (auto what = detail::action_of(one.kind(), words)) {
            tick.actions.push_back(
                {Time{Duration{one.at()}}, static_cast<BodyId>(one.by()), one.tag(), *what});
        }
    }
    if (const auto* bytes = from.companion()) {
        const auto all = std::as_bytes(std::span{bytes->data(), bytes->size()});
        tick.companion.assign(all.begin(), all.end());
    }
    for (unsigned index = 0; index < size_of(from.tuning()); ++index) {
        const auto* bytes = from.tuning()->Get(index)->packed();
        auto step = bytes != nullptr ? unpack_tuning(std::as_bytes(std::span{bytes->data(), bytes->size()}))
                                     : std::nullopt;
        tick.tuning.push_back(step ? std::move(*step) : TuningStep{});
    }
    if (from.is_hashed()) {
        tick.hash = from.hash();
        for (unsigned index = 0; index < size_of(from.parts()); ++index) {
            tick.parts.push_back(from.parts()->Get(index));
        }
    }
    return tick;
}

} // namespace

struct ReplayReader::Reading {
    std::string name;
    detail::OpenFile file;
    std::span<const std::byte> bytes; // without a file
    std::size_t at = 0;
    ReplayHead head;
    Tick next_tick = 0;
    bool at_end = false;
    std::vector<std::byte> packed;
    std::vector<std::byte> plain;

    std::size_t read(void* to, std::size_t size) {
        std::size_t done = std::min(size, bytes.size() - std::min(at, bytes.size()));
        if (file) {
            done = std::fread(to, 1, size, file.get());
        } else if (done > 0) {
            std::memcpy(to, bytes.data() + at, done);
        }
        at += done;
        return done;
    }

    Diagnostic fault(const std::string& what, const std::string& allowed = {}) const {
        return {Severity::error, name, 0, 0, "byte " + std::to_string(at), what, allowed, {}};
    }

    // The next part; null at the end or after a fault.
    const record::Record* next_part(std::vector<Diagnostic>& faults) {
        detail::ReplayPartHead part{};
        if (read(&part, sizeof part) != sizeof part) {
            faults.push_back(fault("the file is cut off after tick " + std::to_string(next_tick - 1)));
            return nullptr;
        }
        if (part.packed == 0 && part.plain == 0) {
            at_end = true;
            return nullptr;
        }
        if (part.packed > detail::max_replay_part || part.plain > detail::max_replay_part ||
            part.plain == 0) {
            faults.push_back(fault("a part is too large, or nothing: the file is damaged", "up to 64 MiB"));
            return nullptr;
        }
        packed.resize(part.packed);
        if (read(packed.data(), packed.size()) != packed.size()) {
            faults.push_back(fault("the file is cut off after tick " + std::to_string(next_tick - 1)));
            return nullptr;
        }
        if (XXH3_64bits(packed.data(), packed.size()) != part.check) {
            faults.push_back(fault("the part after tick " + std::to_string(next_tick - 1) + " is damaged"));
            return nullptr;
        }
        plain.resize(part.plain);
        if (ZSTD_decompress(plain.data(), plain.size(), packed.data(), packed.size()) != plain.size()) {
            faults.push_back(fault("a part cannot be unpacked"));
            return nullptr;
        }
        flatbuffers::Verifier verifier{reinterpret_cast<const std::uint8_t*>(plain.data()), plain.size(), 16,
                                       4'000'000};
        if (!record::VerifyRecordBuffer(verifier)) {
            faults.push_back(fault("a part is no record of a replay"));
            return nullptr;
        }
        return record::GetRecord(plain.data());
    }

    void take_head(const record::Head& from, std::vector<Diagnostic>& faults) {
        head.made_by = text_of(from.made_by());
        head.arsenal.whole = from.arsenal();
        for (unsigned index = 0; index < size_of(from.entries()); ++index) {
            const record::EntryDigest& entry = *from.entries()->Get(index);
            head.arsenal.entries.push_back({text_of(entry.name()), entry.digest()});
        }
        head.level_name = text_of(from.level_name());
        head.level = from.level();
        head.rules = text_of(from.rules());
        head.seed = from.seed();
        for (unsigned index = 0; index < size_of(from.locomotions()); ++index) {
            head.locomotions.push_back(text_of(from.locomotions()->Get(index)));
        }
        head.poses = text_of(from.poses());
        SkirmishSettings& set = head.settings;
        set.rate.hertz = from.rate();
        set.moves_bodies = from.moves_bodies();
        set.muzzle = static_cast<MuzzleRule>(std::min<std::uint8_t>(from.muzzle(), 2));
        set.limits = {from.combatants(), from.hazards(), from.pickups(), from.dropped()};
        set.projectiles = from.projectiles();
        set.history_frames = from.history_frames();
        set.snapshot_interval = from.snapshot_interval();
        set.snapshot_history = from.snapshot_history();
        const auto check = [&](const char* what, std::uint64_t value, std::uint64_t least,
                               std::uint64_t most) {
            if (value < least || value > most) {
                faults.push_back(fault("its " + std::string{what} + " is " + std::to_string(value),
                                       std::to_string(least) + " to " + std::to_string(most)));
            }
        };
        check("tick rate", static_cast<std::uint64_t>(std::max(0, from.rate())), 1, 1000);
        check("number of combatants", from.combatants(), 1, max_recorded);
        check("room for hazards", from.hazards(), 0, max_things);
        check("room for pickups", from.pickups(), 0, max_things);
        check("room for dropped weapons", from.dropped(), 0, max_things);
        check("room for projectiles", from.projectiles(), 1, max_projectiles);
        check("number of frames", from.history_frames(), 2,
              max_frames / std::clamp<std::uint64_t>(from.combatants(), 1, max_recorded));
        check("snapshot interval", static_cast<std::uint64_t>(std::max(0, from.snapshot_interval())), 0,
              1000);
        check("number of snapshots", from.snapshot_history(), from.snapshot_interval() > 0 ? 2 : 0,
              max_frames / std::clamp<std::uint64_t>(from.combatants(), 1, max_recorded));
    }

    std::vector<Diagnostic> start() {
        std::vector<Diagnostic> faults;
        detail::ReplayFileHead first{};
        if (read(&first, sizeof first) != sizeof first ||
            !std::equal(std::begin(first.mark), std::end(first.mark), detail::replay_mark)) {
            return {fault("is no replay", "a file that was recorded, such as by avrek bout --record")};
        }
        if (first.version != detail::replay_version) {
            return {fault("is a replay of version " + std::to_string(first.version),
                          "version " + std::to_string(detail::replay_version))};
        }
        const record::Record* part = next_part(faults);
        if (part != nullptr && part->part_as_Head() != nullptr) {
            take_head(*part->part_as_Head(), faults);
        } else if (faults.empty()) {
            faults.push_back(fault("has no head"));
        }
        return faults;
    }
};

ReplayReader::ReplayReader() : reading_(std::make_unique<Reading>()) {}
ReplayReader::~ReplayReader() = default;
ReplayReader::ReplayReader(ReplayReader&&) noexcept = default;
ReplayReader& ReplayReader::operator=(ReplayReader&&) noexcept = default;

std::vector<Diagnostic> ReplayReader::open(const std::string& file) {
    reading_ = std::make_unique<Reading>();
    reading_->name = file;
    reading_->file.reset(std::fopen(file.c_str(), "rb"));
    if (!reading_->file) {
        return {{Severity::error,
                 file,
                 0,
                 0,
                 {},
                 std::string{"cannot be read: "} + std::strerror(errno),
                 "a replay",
                 {}}};
    }
    return reading_->start();
}

std::vector<Diagnostic> ReplayReader::open(std::span<const std::byte> bytes, std::string name) {
    reading_ = std::make_unique<Reading>();
    reading_->name = std::move(name);
    reading_->bytes = bytes;
    return reading_->start();
}

const ReplayHead& ReplayReader::head() const {
    return reading_->head;
}

bool ReplayReader::is_at_end() const {
    return reading_->at_end;
}

std::optional<ReplayChunk> ReplayReader::next(std::vector<Diagnostic>& faults) {
    Reading& from = *reading_;
    const record::Record* part = from.at_end ? nullptr : from.next_part(faults);
    if (part == nullptr) {
        return std::nullopt;
    }
    const record::Chunk* chunk = part->part_as_Chunk();
    const bool follows = chunk != nullptr && chunk->first_tick() == from.next_tick &&
                         size_of(chunk->ticks()) > 0 && size_of(chunk->ticks()) <= max_ticks;
    if (!follows) {
        faults.push_back(from.fault("what follows tick " + std::to_string(from.next_tick - 1) +
                                    " is not the ticks after it"));
        return std::nullopt;
    }
    ReplayChunk made;
    made.first = from.next_tick;
    std::size_t size = 0;
    for (unsigned index = 0; index < chunk->ticks()->size(); ++index) {
        size += size_made(*chunk->ticks()->Get(index));
        if (size > max_made) {
            faults.push_back(from.fault("what follows tick " + std::to_string(from.next_tick - 1) +
                                            " says more than a chunk can: the file is damaged",
                                        "up to 256 MiB when it is read"));
            return std::nullopt;
        }
        made.ticks.push_back(tick_of(*chunk->ticks()->Get(index)));
    }
    if (const record::FieldsRecord* fields = chunk->fields()) {
        const std::size_t count = std::min(size_of(fields->names()), size_of(fields->values()));
        for (unsigned index = 0; index < count; ++index) {
            made.fields.push_back({fields->names()->Get(index), fields->values()->Get(index)});
        }
    }
    from.next_tick += static_cast<Tick>(made.ticks.size());
    return made;
}

} // namespace avrek
