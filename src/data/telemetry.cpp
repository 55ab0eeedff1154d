#include "tables.h"
#include <avrek/core/units.h>
#include <avrek/data/telemetry.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>

namespace avrek {

namespace {

using detail::TableShape;
using detail::Value;

enum Table : std::size_t { matches, combatants, shots, hits, hit_steps, deaths, reloads };

const std::vector<TableShape>& shapes() {
    static const std::vector<TableShape> all{
        {"matches", "id INTEGER, level TEXT, rules TEXT, seed TEXT, rate INTEGER, ticks INTEGER, "
                    "over INTEGER, winner INTEGER"},
        {"combatants", "match INTEGER, id INTEGER, name TEXT, team INTEGER, body TEXT, shooter TEXT, "
                       "score INTEGER, kills INTEGER, deaths INTEGER, assists INTEGER, shots INTEGER, "
                       "shots_hit INTEGER, damage_dealt REAL, damage_taken REAL"},
        {"shots", "match INTEGER, at REAL, who INTEGER, shot INTEGER, weapon TEXT, x REAL, y REAL, z REAL, "
                  "yaw REAL, pitch REAL, spread REAL, power REAL, muzzle TEXT, aimed_at INTEGER, "
                  "aimed REAL"},
        {"hits", "id INTEGER, match INTEGER, at REAL, who INTEGER, target INTEGER, shot INTEGER, "
                 "weapon TEXT, region TEXT, distance REAL, damage_type TEXT, condition TEXT, damage REAL, "
                 "absorbed REAL, health_left REAL, hostile INTEGER"},
        {"hit_steps", "hit INTEGER, step INTEGER, kind TEXT, factor REAL, total REAL"},
        {"deaths",
         "match INTEGER, at REAL, who INTEGER, killer INTEGER, weapon TEXT, x REAL, y REAL, z REAL"},
        {"reloads", "match INTEGER, at REAL, who INTEGER, weapon TEXT, event TEXT, rounds INTEGER, "
                    "moved INTEGER, discarded INTEGER"},
    };
    return all;
}

Value number(auto value) {
    return static_cast<std::int64_t>(value);
}

double seconds_at(Time at) {
    return to_seconds(at - Time{});
}

Value body_value(BodyId id) {
    return id == nobody ? Value{} : Value{static_cast<std::int64_t>(id)};
}

} // namespace

struct Telemetry::Writing {
    // Cause of a hit in the same tick.
    struct Cause {
        Time at{};
        BodyId who = nobody;
        std::string_view weapon{};
        Value shot{};
        Value distance{};
    };

    std::filesystem::path file;
    std::unique_ptr<detail::Tables> tables;
    std::int64_t match = 0;
    std::int64_t next_hit = 1;
    Tick kept = 0;
    std::string level;
    struct Name {
        std::string name;
        std::string shooter;
    };
    std::map<BodyId, Name> names;
    std::map<BodyId, std::string> killed_with; // the weapon of the last hit
    Cause cause;
    std::int64_t winner = -1;

    void add(Table table, std::initializer_list<Value> row) { tables->add(table, {row.begin(), row.size()}); }
};

Telemetry::Telemetry() = default;
Telemetry::~Telemetry() = default;
Telemetry::Telemetry(Telemetry&&) noexcept = default;
Telemetry& Telemetry::operator=(Telemetry&&) noexcept = default;

namespace {

std::vector<Diagnostic> fault_of(const detail::Tables& tables, const std::filesystem::path& file) {
    if (tables.fault().empty()) {
        return {};
    }
    return {{Severity::error, file.string(), 0, 0, {}, "cannot be written: " + tables.fault(), {}, {}}};
}

// Where eight fighters' middles are. Those of nobody are no numbers, and near nothing.
struct Middles {
    using Eight = Eigen::Array<double, 8, 1>;
    static constexpr std::size_t width = 8;
    Eight x = Eight::Constant(std::nan(""));
    Eight y = x;
    Eight z = x;

    // Whether one may be within ten degrees of a shot's line. Hardly ever one is, which takes no root to say.
    bool any_near(const ShotEvent& shot) const {
        const Eight left = x - shot.muzzle.x();
        const Eight up = y - shot.muzzle.y();
        const Eight front = z - shot.muzzle.z();
        const Vector3& along = shot.direction;
        const Eight ahead = left * along.x() + up * along.y() + front * along.z();
        const Eight square = left * left + up * up + front * front;
        return (ahead > 0.0 && ahead * ahead > 0.969 * square).any();
    }
};

std::vector<Middles> middles_of(std::span<const Fighter> fighters) {
    std::vector<Middles> made((fighters.size() + Middles::width - 1) / Middles::width);
    for (std::size_t index = 0; index < fighters.size(); ++index) {
        const Vector3 middle = fighters[index].motion.position + world_up();
        Middles& eight = made[index / Middles::width];
        const auto place = static_cast<Eigen::Index>(index % Middles::width);
        eight.x[place] = middle.x();
        eight.y[place] = middle.y();
        eight.z[place] = middle.z();
    }
    return made;
}

// One tick's events, as rows.
struct Taking {
    Telemetry::Writing& to;
    const Skirmish& skirmish;
    std::vector<Middles> middles = middles_of(skirmish.fighters());

    const Arsenal& arsenal() const { return skirmish.arsenal(); }

    template <class Id>
    std::string_view name_of(std::optional<Id> id) const {
        return id ? std::string_view{arsenal()[*id].id} : std::string_view{};
    }

    void operator()(const ShotEvent& shot) {
        const Look look = look_of(shot.direction);
        const Aimed aimed = aimed_at(shot);
        to.add(shots, {to.match, seconds_at(shot.at), number(shot.who), number(shot.shot),
                       name_of(shot.weapon), shot.muzzle.x(), shot.muzzle.y(), shot.muzzle.z(),
                       to_degrees(look.yaw), to_degrees(look.pitch), to_degrees(shot.spread), shot.power,
                       shot.held_back ? std::string_view{"held back"} : to_string(shot.state),
                       body_value(aimed.who), aimed.who != nobody ? Value{aimed.distance} : Value{}});
    }
    struct Aimed {
        BodyId who = nobody;
        Metres distance = 0.0;
    };
    // The foe whose middle is nearest to the line of a shot, if one is within ten degrees of it.
    Aimed aimed_at(const ShotEvent& shot) const {
        constexpr double min_cosine = 0.985;
        const Match& match = skirmish.match();
        const Combatant* shooter = match.find(shot.who);
        Aimed best;
        double nearest = min_cosine;
        const std::span<const Combatant> combatants = match.combatants();
        for (std::size_t index = 0; index < skirmish.fighters().size(); ++index) {
            if (index % Middles::width == 0 && !middles[index / Middles::width].any_near(shot)) {
                index += Middles::width - 1;
                continue;
            }
            const Vector3 way = skirmish.fighters()[index].motion.position + world_up() - shot.muzzle;
            const Combatant& other = combatants[index];
            const Metres distance = std::sqrt(way.squaredNorm());
            const double cosine = way.dot(shot.direction) / std::max(1e-9, distance);
            if (cosine > nearest && shooter != nullptr && match.are_hostile(*shooter, other)) {
                nearest = cosine;
                best = {other.id, distance};
            }
        }
        return best;
    }
    void operator()(const SegmentEvent& segment) {
        to.cause = {segment.at, segment.who, name_of(segment.weapon), number(segment.shot), segment.flown};
    }
    void operator()(const FlightEvent& flight) {
        to.cause = {flight.event.at, flight.event.shooter, name_of(flight.weapon), number(flight.event.shot),
                    flight.event.flown};
    }
    void operator()(const BlastEvent& blast) {
        to.cause = {blast.at, blast.who, name_of(blast.weapon), number(blast.shot), Value{}};
    }
    void operator()(const SwingEvent& swing) {
        const Fighter* fighter = skirmish.find(swing.who);
        const bool known = fighter != nullptr && fighter->melee;
        to.cause = {swing.event.at, swing.who, known ? name_of(fighter->melee) : std::string_view{}, Value{},
                    swing.event.hit.distance};
    }
    void operator()(const HandlingEvent& hands) {
        const WeaponEventKind kind = hands.event.kind;
        if (kind >= WeaponEventKind::reload_started && kind <= WeaponEventKind::reload_cancelled) {
            to.add(reloads, {to.match, seconds_at(hands.event.at), number(hands.who), name_of(hands.weapon),
                             to_string(kind), number(hands.event.rounds), number(hands.event.moved),
                             number(hands.event.discarded)});
        }
    }
    void operator()(const MatchOverEvent& over) { to.winner = over.winner; }
    void operator()(const KillEvent& kill) {
        const Fighter* fighter = skirmish.find(kill.who);
        const Vector3 at = fighter != nullptr ? fighter->motion.position : Vector3(Vector3::Zero());
        to.add(deaths, {to.match, seconds_at(kill.at), number(kill.who), body_value(kill.by),
                        to.killed_with[kill.who], at.x(), at.y(), at.z()});
    }
    void operator()(const DamageEvent& hurt) {
        const bool ticks = hurt.condition.has_value();
        const bool caused = !ticks && to.cause.at == hurt.at && to.cause.who == hurt.source;
        const Combatant* by = skirmish.match().find(hurt.source);
        const Combatant* who = skirmish.match().find(hurt.who);
        const bool hostile = by != nullptr && who != nullptr && skirmish.match().are_hostile(*by, *who);
        std::string_view region;
        if (hurt.region && who != nullptr) {
            region = region_of(arsenal()[who->body].rig, *hurt.region).name;
        }
        const std::int64_t id = to.next_hit++;
        to.killed_with[hurt.who] = caused ? to.cause.weapon : std::string_view{};
        to.add(hits, {id, to.match, seconds_at(hurt.at), body_value(hurt.source), number(hurt.who),
                      caused ? to.cause.shot : Value{}, caused ? to.cause.weapon : std::string_view{}, region,
                      caused ? to.cause.distance : Value{}, name_of(hurt.type), name_of(hurt.condition),
                      hurt.damage.amount(), hurt.absorbed, hurt.health_left, number(hostile)});
        for (std::size_t step = 0; step < hurt.damage.step_count; ++step) {
            const DamageStep& taken = hurt.damage.steps[step];
            to.add(hit_steps,
                   {id, number(step), to_string(taken.kind), taken.factor, hurt.damage.amount_after(step)});
        }
    }
    template <class Other> // not recorded
    void operator()(const Other&) {}
};

} // namespace

std::vector<Diagnostic> Telemetry::open(const std::string& file) {
    writing_ = std::make_unique<Writing>();
    writing_->file = file;
    writing_->tables = std::filesystem::path{file}.extension() == ".db"
                           ? detail::sqlite_tables(file, shapes())
                           : detail::csv_tables(file, shapes());
    std::vector<Diagnostic> faults = fault_of(*writing_->tables, file);
    if (!faults.empty()) {
        writing_.reset();
        return faults;
    }
    writing_->tables = detail::in_background(std::move(writing_->tables));
    return {};
}

void Telemetry::begin(const Skirmish&, const std::string& level) {
    if (writing_) {
        writing_->match = writing_->tables->next_number(matches);
        writing_->next_hit = writing_->tables->next_number(hits);
        writing_->level = level;
        writing_->names.clear();
        writing_->killed_with.clear();
        writing_->winner = -1;
        writing_->kept = 0;
    }
}

void Telemetry::name(BodyId id, const std::string& name, const std::string& shooter) {
    if (writing_) {
        writing_->names[id] = {name, shooter};
    }
}

void Telemetry::take(const Skirmish& skirmish) {
    if (!writing_) {
        return;
    }
    writing_->cause = {};
    Taking taking{*writing_, skirmish};
    for (const Event& event : skirmish.events()) {
        std::visit(taking, event);
    }
    if (skirmish.tick() - writing_->kept >= skirmish.settings().rate.hertz) {
        writing_->tables->keep();
        writing_->kept = skirmish.tick();
    }
}

std::vector<Diagnostic> Telemetry::end(const Skirmish& skirmish) {
    if (!writing_) {
        return {};
    }
    Writing& to = *writing_;
    const std::string seed = std::to_string(skirmish.seed());
    to.add(matches, {to.match, to.level, skirmish.match().rules().id, seed,
                     number(skirmish.settings().rate.hertz), number(skirmish.tick()),
                     number(skirmish.is_over()), to.winner >= 0 ? Value{to.winner} : Value{}});
    for (const Combatant& who : skirmish.match().combatants()) {
        const auto named = to.names.find(who.id);
        const PlayerStats& stats = who.stats;
        const std::string name =
            named != to.names.end() ? named->second.name : std::to_string(static_cast<std::uint32_t>(who.id));
        const std::string shooter = named != to.names.end() ? named->second.shooter : std::string{};
        to.add(combatants,
               {to.match, number(who.id), name, number(who.team), skirmish.arsenal()[who.body].id, shooter,
                number(stats.score), number(stats.kills), number(stats.deaths), number(stats.assists),
                number(stats.shots), number(stats.shots_hit), stats.damage_dealt, stats.damage_taken});
    }
    to.tables->keep();
    return fault_of(*to.tables, to.file);
}

} // namespace avrek
