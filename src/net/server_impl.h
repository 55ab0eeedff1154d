#pragma once
#include "assigned_view.h"
#include "known_bodies.h"
#include "lying_things.h"
#include "noises.h"
#include "own_state.h"
#include "wire.h"
#include <avrek/net/server.h>

#include <array>
#include <atomic>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace avrek::detail {

/// Bytes that IP, UDP and QUIC add to a message.
inline constexpr double datagram_cost = 57.0;

/// One connection, from its first packet on.
struct Peer {
    static constexpr std::size_t ring = 128;

    PeerId id{};
    BodyId player = nobody; ///< nobody: it has not shown a ticket yet
    TeamId team{};
    PublicKey key{};                 ///< that it has proved to hold
    std::vector<std::byte> ticket{}; ///< with which it asked to be let in
    TicketClaims returns_with{};     ///< its return ticket
    Time came_at{};
    Time heard_at{};
    double allowance = 0.0; ///< packets that it may still send
    FaultCounts faults{};
    std::uint64_t guilt_before = 0; ///< faults that do not count any more
    Time guilt_from{};
    bool leaves = false;      ///< it has said so
    bool is_behind = false;   ///< it does not take what is sent to it
    Duration interpolation{}; ///< as it asked for
    std::int32_t send_every = 1;

    struct Wanted {
        Tick tick = -1;
        Intent intent{};
    };
    std::array<Wanted, ring> wanted{};
    Tick joined = 0;
    Tick newest = -1; ///< tick of its newest intent
    std::int32_t early = 0;
    bool early_is_new = false;
    std::uint64_t missing = 0;
    std::int32_t missing_now = 0; ///< in a row

    struct Sent {
        Tick tick = -1;
        Time at{};
        OwnState own{};
        GameBytes<32> game{}; ///< game bytes of its intent then
        Duration view_delay{};
        /// How many snapshots old it has each body of that moment; 255: it does not have it.
        std::vector<std::uint8_t> ages{};
    };
    std::array<Sent, 64> sent{};       ///< by moments that are shown
    std::vector<WordKind> own_kinds{}; ///< kinds of its state's words
    Tick snapshot = -1;                ///< the newest that has come there
    Duration round_trip{};
    AssignedView view{};
    PeerSigns signs{};
    std::int64_t claims_in = -1;    ///< the second in which it last claimed to notice a foe
    std::uint32_t wrong_claims = 0; ///< in that second
    KnownBodies known{};
    std::vector<std::uint64_t> hidden_flights{}; ///< ids of launches that it was not told of, in order
    /// Numbers of the things that it knows to be there, by kind, in order.
    std::array<std::vector<std::int32_t>, thing_kind_count> things{};

    bool may_tune = false;
    Time may_propose_at{};               ///< the next step
    std::vector<GameCommand> commands{}; ///< in order of arrival
    std::vector<Notice> outbox{};
    std::uint64_t notices = 0;
    std::uint64_t notice_chain = 0;
    Traffic up{};
    Traffic down{};
    double may_get = 0.0;       ///< bytes, until its next snapshot
    std::uint64_t left_out = 0; ///< bodies, of snapshots
};

/// Ledger values of a combatant as they were last sent.
struct LedgerRecord {
    bool is_new = true;
    TeamId team{};
    BodySpecId body{};
    bool alive = false;
    bool connected = false;
    double health = 0.0;
    std::int32_t score = 0;
    std::int32_t kills = 0;
    std::int32_t deaths = 0;
    std::int32_t assists = 0;
    std::int32_t lives = 0;
    friend bool operator==(const LedgerRecord&, const LedgerRecord&) = default;
};

/// A step of the arsenal, and when it counts.
struct PlannedTuning {
    Tick tick = 0;
    std::shared_ptr<const Arsenal> arsenal{};
    TuningMessage message{};
};

/// A projectile that clients are told of.
struct ToldFlight {
    Notice launched{};
    std::optional<Notice> stuck{};
    std::size_t pool = 0;
    ProjectileHandle projectile{};
};

/// A body of the newest snapshot, by which its worth to a client is found.
struct ShownBody {
    const Combatant* who = nullptr; ///< not null
    Vector3 middle = Vector3::Zero();
    bool shoots = false;
};

struct OfferedBody {
    std::size_t index = 0;   ///< in the moment
    std::int64_t waited = 0; ///< snapshots since its client was told of it
};

struct ShownMoment {
    Tick tick = -1;
    std::vector<SeenBody> bodies{};
};

/// Bodies of the newest snapshot, as changes since an older moment. Each is packed once, when it is asked
/// for.
struct ChangesSince {
    const ShownMoment* then = nullptr; ///< null: since nothing
    std::vector<PackedChange> changes{};

    const PackedChange& of(std::size_t index, const SeenBody& now);
};

} // namespace avrek::detail

namespace avrek {

struct Server::Impl {
    Impl(const GameData& its_data, const ServerSettings& its_settings, std::uint64_t seed,
         Transport& its_transport);

    const GameData& data;
    ServerSettings settings;
    Transport& transport;
    Skirmish skirmish;
    KeyPair return_keys = make_keys(); ///< that sign tickets with which players come back
    TicketCheck tickets;
    std::shared_ptr<std::atomic<std::int64_t>> clock =
        std::make_shared<std::atomic<std::int64_t>>(0); ///< time of day, for the check of greetings
    std::uint64_t level_digest = 0;

    std::map<std::uint32_t, detail::Peer> peers{};            ///< by the transport's number
    std::map<std::uint32_t, Time> waiting_slots{};            ///< by player: until when, without a peer
    std::map<std::uint32_t, detail::LedgerRecord> recorded{}; ///< by combatant
    std::array<std::int64_t, 32> team_scores{};
    bool told_respawns = false;
    std::array<std::int64_t, 32> team_respawns = [] {
        std::array<std::int64_t, 32> any{};
        any.fill(-1);
        return any;
    }();
    bool told_over = false;
    bool teams_changed = false; ///< since the last changes of the ledger were sent
    Ledger ledger{};
    NoticeBoard board{};
    std::vector<detail::ToldFlight> flights{}; ///< in order of their launches
    detail::NoiseFinder noises{};
    detail::LyingThings things{};
    std::uint64_t notice_ids = 0;
    std::array<detail::ShownMoment, 128>
        moments{}; ///< more than are sent and not acknowledged, and how old they have bodies
    std::map<Tick, detail::ChangesSince> changes{}; ///< bodies of the newest snapshot
    std::vector<detail::ShownBody> shown_bodies{};  ///< in order of their ids
    std::vector<BodyId> hidden{};                   // room to work in: foes that a client is not told of
    std::vector<BodyId> had{};                      // room to work in: bodies that a client has
    std::vector<detail::BodyOffer> offers{};        // too: what it could be told
    std::vector<detail::OfferedBody> offered{};     // and where the offers stand in the moment
    std::vector<BodyId> connected{};                // room to work in
    std::vector<Intent> intents{};
    std::vector<GameCommand> commands{}; // commands of this tick
    std::vector<GameAction> actions{};
    GameTickHook hook{};
    TunedArsenal tuned;
    std::vector<detail::PlannedTuning> tunings{}; ///< all, in order
    std::size_t counting = 0;                     ///< those that count already
    std::vector<TuningStep> retuned{};            ///< in the last tick
    std::vector<ConnectionEvent> connection_events{};
    std::vector<BodyId> entered{};
    std::vector<BodyId> departed{};
    FaultCounts gone_faults{};
    std::int64_t now_of_day = 0;

    Time now() const { return skirmish.now(); }
    const PlayerSlot* slot_of(BodyId player) const;
    Entrant entrant_of(const PlayerSlot& slot) const;
    detail::Peer* peer_of(BodyId player);

    // Incoming packets.
    void receive();
    void take_packet(detail::Peer& peer, const TransportEvent& event);
    void take_join(detail::Peer& peer, std::span<const std::byte> body);
    void take_command(detail::Peer& peer, std::span<const std::byte> body);
    void take_proposal(detail::Peer& peer, std::span<const std::byte> body);
    void note_early(detail::Peer& peer, Tick newest) const;
    void take_intents(detail::Peer& peer, const detail::IntentsMessage& message);
    void admit(detail::Peer& peer, const TicketClaims& claims);
    TicketClaims claims_to_return(TicketClaims claims) const;
    void refuse(detail::Peer& peer, const std::string& reason,
                const std::vector<std::string>& differing = {});
    void fault(detail::Peer& peer, PeerFault kind) { ++peer.faults[kind]; }
    void look_at_peers();
    void drop(std::uint32_t number, ConnectionEvent::Kind kind, const std::string& reason);
    void give_up_seats();
    void leave_match(BodyId player);

    // Input of the tick.
    void gather_intents(std::span<const Intent> own);
    void drop_removed();
    void let_game_act(std::span<const GameAction> own);
    bool could_see(BodyId player, BodyId target, Duration view_delay) const;
    bool is_believed(detail::Peer& peer, const Intent& intent) const;
    Intent checked_intent(detail::Peer& peer, Intent intent);

    Loaded<Tick> retune(TuningStep step);
    Tick tick_for_all() const;
    void count_tunings();

    // Outgoing packets.
    void send(detail::Peer& peer, detail::MessageKind kind, Channel channel, TrafficKind traffic,
              std::span<const std::byte> body);
    std::vector<std::byte> packet{}; // room to work in
    void publish(Notice notice, const Audience& audience, bool remembered);
    void notify_events(std::span<const Event> events);
    void notify_damage(const DamageEvent& hurt, const Vector3& point);
    void notify_blast(const BlastEvent& blast, std::size_t& rays);
    void notify_respawn(const SpawnEvent& spawn);
    bool comes_to_see(detail::Peer& peer, const detail::LyingThing& thing, std::size_t& rays);
    void tell_of(const detail::LyingThing& thing, std::size_t kind, detail::Peer& peer, std::size_t& rays);
    void tell_things();
    void forget_things();
    void tell_plan(detail::Peer& peer) const;
    void notify_flight(const FlightEvent& flight);
    void tell_launch(Notice notice, std::size_t pool, ProjectileHandle projectile);
    void tell_of_flight(Notice notice);
    void tell_flights(detail::Peer& peer);
    void find_flights(detail::Peer& peer, std::size_t& rays);
    void tell_found(detail::Peer& peer, const detail::ToldFlight& flight, const Vector3& place,
                    const Vector3& velocity);
    std::optional<WeaponId> weapon_of(BodyId id) const;
    void keep_ledger();
    bool may_know_of(BodyId player, BodyId other) const;
    bool may_know(BodyId player, const LedgerEntry& entry) const;
    bool knows(const detail::Peer& peer, BodyId other) const;
    void send_ledger(detail::Peer& peer);
    void send_changes();
    void send_notices();
    /// Where a moment that is shown stands in a ring of `size`.
    std::size_t index_of(Tick snapshot, std::size_t size) const {
        return static_cast<std::size_t>(snapshot / skirmish.settings().snapshot_interval) % size;
    }
    void note_snapshot();
    std::vector<detail::Peer*> looking{}; // room to work in
    std::size_t looked = 0;               ///< calls of find_known()
    void find_known();
    bool are_kept(const detail::Peer::Sent& sent, Tick tick) const;
    detail::ChangesSince& changes_since(Tick told, std::size_t bodies);
    double worth_of(const Vector3& eye, const Vector3& aim, std::size_t index, std::int64_t age) const;
    std::vector<std::uint8_t> pack_for(detail::Peer& peer, const detail::Peer::Sent* before,
                                       detail::Peer::Sent& sent, std::size_t room);
    void leave_out(detail::Peer& peer, detail::Peer::Sent& sent, std::size_t room);
    std::size_t room_for_bodies(detail::Peer& peer, Duration interval,
                                const detail::SnapshotMessage& message);
    void send_snapshot(detail::Peer& peer);
};

} // namespace avrek
