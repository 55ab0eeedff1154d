#pragma once
#include <avrek/core/ids.h>
#include <avrek/data/game_data.h>
#include <avrek/data/tuned_arsenal.h>
#include <avrek/net/ledger.h>
#include <avrek/net/notices.h>
#include <avrek/net/tickets.h>
#include <avrek/net/traffic.h>
#include <avrek/net/transport.h>
#include <avrek/skirmish/game_tick.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// The server of a networked match. It alone runs the fight that counts, and sends the results.
namespace avrek {

/// A player slot: a player that tickets can name, and its entrant.
struct PlayerSlot {
    BodyId player = nobody; ///< the player that tickets name
    std::string name{};
    TeamId team{};
    BodySpecId body{};
    std::optional<MeleeId> melee{};
    std::vector<WeaponId> weapons{};
    std::vector<std::uint16_t> spawns{};
};

/// Limits of what peers can cause.
struct ServerLimits {
    std::int32_t packets = 200;                        ///< per second and peer; more are dropped
    std::size_t commands = 64;                         ///< GameCommands that wait for their tick, of a peer
    std::int32_t faults = 100;                         ///< per ten seconds; more disconnect the peer
    Duration ahead = std::chrono::milliseconds{1000};  ///< intents further ahead are dropped
    Duration early = std::chrono::milliseconds{250};   ///< intents further ahead are a sign, see PeerSigns
    double turn = 100.0;                               ///< rad/s; faster turns are a sign
    Duration silence = std::chrono::seconds{10};       ///< without packets for this long, a peer is lost
    Duration slot_reserved = std::chrono::seconds{20}; ///< a lost player's slot is kept this long
    std::size_t connecting = 64;                       ///< peers at a time without an accepted ticket
};

/// Rules for telling clients about foes. A client always knows the bodies of its player's team.
struct InterestSettings {
    bool everything = false; ///< clients are told of all bodies: for tests, and where nobody hides
    /// A foe is told that the player could see from anywhere it could be by then, and at least until what is
    /// told is drawn. 0 to 1 s.
    Duration ahead = std::chrono::milliseconds{250};
    Duration lingers = std::chrono::milliseconds{250}; ///< it is told for so long after; 0 to 10 s
    bool tells_damage = true; ///< the notice of a hit tells its shooter how much damage it did
    /// Rays per snapshot, for all clients, and as many per tick for explosions. A foe or an explosion that no
    /// ray is left for is told. As many per tick look for pickups, weapons and hazards that come or go, and a
    /// 32nd of them for others: one that no ray is left for waits for the next look. At least 0.
    std::size_t rays = 2'000;
    /// Distance within which a player hears the shots of foes that its client is not told, see Noise; 0 to
    /// 1,000.
    Metres hears_shots = 60.0;
    Metres hears_steps = 12.0; ///< the same, for their steps
    /// The same, for explosions that the player could not see.
    Metres hears_explosions = 90.0;
};

/// Settings of a server.
struct ServerSettings {
    /// A snapshot_interval of 0 becomes 2. Histories are made long enough.
    SkirmishSettings skirmish{};
    std::uint64_t match = 1; ///< match number that tickets must have
    PublicKey issuer{};      ///< key of the ticket issuer
    /// Clients are not told the seed of their own spread, and draw another; only the cones agree.
    bool private_seed = false;
    ServerLimits limits{};
    InterestSettings interest{};
    /// Bytes per second to each client, with all headers; 2,000 to 1,000,000. Bodies for which there is no
    /// room are left out of a snapshot, the far ones first; clients draw them on as they went. Notices, the
    /// ledger and the client's own state are always sent.
    std::int32_t budget = 15'000;
    std::vector<PlayerSlot> slots{};
};

/// Readout of one peer.
struct PeerReadout {
    PeerId peer{};
    BodyId player = nobody;
    bool is_playing = false;
    Duration round_trip{};     ///< over the last second
    std::int32_t early = 0;    ///< ticks by which its last intent came early; negative: late
    std::uint64_t missing = 0; ///< ticks without an intent of its own
    PeerSigns signs{};
    Duration view_delay{}; ///< age of its picture, as the server assigns it
    FaultCounts faults{};
    Traffic up{};                   ///< from the peer
    Traffic down{};                 ///< to the peer
    std::uint64_t left_out = 0;     ///< bodies left out of snapshots for want of room
    std::uint64_t notices = 0;      ///< notices sent to it
    std::uint64_t notice_chain = 0; ///< hash over the ids of its notices, in order
};

/// A change of a connection.
struct ConnectionEvent {
    /// Kinds of changes.
    enum class Kind : std::uint8_t { connected, left, lost, refused, removed } kind = Kind::connected;
    PeerId peer{};
    BodyId player = nobody;
    std::string reason{};
};

/// Returns the faults of settings for the data; each diagnostic names its member, such as "slots[2].body".
/// Without any, a Server can be made of them.
std::vector<Diagnostic> validate(const GameData& data, const ServerSettings& settings);

/// The server. Data and transport must outlive it.
///
///     Server server{data, settings, seed, transport};
///     for (const Event& event : server.tick(seconds_since_1970)) { react(event); }   // once per tick
class Server {
  public:
    /// Starts a match. Refers to data and transport. `seed` is the secret of the match: see make_seed().
    /// Precondition (asserted): validate() finds nothing.
    Server(const GameData& data, const ServerSettings& settings, std::uint64_t seed, Transport& transport);
    ~Server();
    Server(const Server&) = delete;
    Server& operator=(const Server&) = delete;

    /// Does one tick: handles received packets, advances the skirmish, sends the results. `now` is the time
    /// of day in seconds since 1970, for tickets. `own` are intents of the server's own, such as those of
    /// bots; `updates` are bodies that the game moves; `actions` are what the game does.
    std::span<const Event> tick(std::int64_t now, std::span<const Intent> own = {},
                                std::span<const BodyUpdate> updates = {},
                                std::span<const GameAction> actions = {});

    /// Sets the game's turn: it sees intents and commands before each tick, and adds actions. Done actions
    /// with a tag other than 0 become notices.
    void on_tick(GameTickHook hook);

    /// Changes the values of the running fight: on the server and on every client in the same tick, far
    /// enough ahead for the links of all that play. Returns that tick, or every fault of the texts; then
    /// nothing changes. Steps count in the order of the calls; late joiners get them all. Clients whose
    /// ticket says TicketClaims::may_tune can ask for a step too, at most once a second: see
    /// Client::propose().
    [[nodiscard]] Loaded<Tick> retune(TuningStep step);
    /// Returns the steps that counted from the last tick on, for replays.
    std::span<const TuningStep> retuned() const;

    /// Returns the fight.
    const Skirmish& skirmish() const;
    /// Direct access, for bots and set-up.
    Skirmish& skirmish();
    /// Returns the intents of the last tick, for replays.
    std::span<const Intent> intents() const;
    /// Returns the actions of the last tick, for replays.
    std::span<const GameAction> actions() const;

    /// Returns who entered the skirmish before the last tick, and who left, for replays.
    std::span<const BodyId> entered() const;
    /// Returns who left before the last tick.
    std::span<const BodyId> departed() const;
    /// Returns the entrant of a player slot. It refers to the slot. Precondition (asserted): there is such a
    /// slot.
    Entrant entrant_of(BodyId player) const;

    /// Sends a notice of the game's own. If `remembered`, late joiners get the newest of its topic, which is
    /// Notice::number, until forget_topic().
    void notify(Notice notice, const Audience& audience, bool remembered = false);
    /// Forgets the remembered notice of the game with a topic.
    void forget_topic(std::uint32_t topic);
    /// Returns the ledger, for properties of the game's own. docs/networking.md lists the server's.
    Ledger& ledger();
    /// Returns the ledger.
    const Ledger& ledger() const;
    /// Returns the ledger as a player is told it: without the health of foes.
    Ledger ledger_of(BodyId player) const;

    /// Returns readouts of all connected peers.
    std::vector<PeerReadout> peers() const;
    /// Returns the faults of all players so far, by kind.
    FaultCounts faults() const;
    /// Returns the connection events of the last tick.
    std::span<const ConnectionEvent> connections() const;

    /// Disconnects a player.
    void remove(BodyId player, const std::string& reason);
    /// Tells all clients that the match is over, and disconnects. Call it once, last.
    void shut_down(const std::string& reason);

    struct Impl; ///< private

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
