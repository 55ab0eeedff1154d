#pragma once
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/ledger.h>
#include <avrek/net/notices.h>
#include <avrek/net/tickets.h>
#include <avrek/net/traffic.h>
#include <avrek/net/transport.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

/// The one authority of a networked match: it runs the skirmish, and tells everybody what they should know.
namespace avrek {

/// Somebody who may play, and as what.
struct PlayerSlot {
    BodyId player = nobody; ///< as tickets name it
    std::string name{};
    TeamId team{};
    std::int32_t body = 0;
    std::int32_t melee = -1;
    std::vector<std::int32_t> weapons{};
    std::vector<std::uint16_t> spawns{};
};

/// What a server will put up with.
struct ServerLimits {
    std::int32_t packets = 200;                       ///< a second of each peer; the others are not looked at
    std::int32_t faults = 100;                        ///< in ten seconds, then the peer is sent away
    Duration ahead = std::chrono::milliseconds{1000}; ///< intents for later ticks than this are not taken
    Duration silence = std::chrono::seconds{10};      ///< of a peer, then it counts as gone
    Duration slot_reserved = std::chrono::seconds{20}; ///< for whoever has gone without leaving
    std::size_t connecting = 64;                       ///< peers at a time that have not shown a ticket
};

struct ServerSettings {
    SkirmishSettings
        skirmish{};            ///< `snapshot_interval`, where it is 0, becomes 2, and frames are made enough
    std::uint64_t match = 1;   ///< that tickets must be for
    PublicKey issuer{};        ///< who signs them
    KeyPair keys{};            ///< of sessions: see make_server_keys()
    bool private_seed = false; ///< clients then draw spread of their own, and only the cones agree
    ServerLimits limits{};
    std::vector<PlayerSlot> slots{};
};

/// One peer, as the server knows it.
struct PeerReadout {
    PeerId peer{};
    BodyId player = nobody;
    bool is_playing = false;
    Duration round_trip{};     ///< as measured, of the last second
    std::int32_t early = 0;    ///< ticks before it was needed that its last intent came; under 0: too late
    std::uint64_t missing = 0; ///< ticks without an intent of its own
    FaultCounts faults{};
    Traffic up{};                   ///< from it
    Traffic down{};                 ///< to it
    std::uint64_t notices = 0;      ///< it has been sent
    std::uint64_t notice_chain = 0; ///< a number made of all their ids, in order
};

/// What happened at the door.
struct ConnectionEvent {
    enum class Kind : std::uint8_t { connected, left, lost, refused, removed } kind = Kind::connected;
    PeerId peer{};
    BodyId player = nobody;
    std::string reason{};
};

/// Arsenal and transport must outlive it. Preconditions (asserted) as for Skirmish.
class Server {
  public:
    Server(const Arsenal& arsenal, const ArsenalDigest& digest, Level level, const ServerSettings& settings,
           std::uint64_t seed, LevelPlan plan, Transport& transport);
    ~Server();
    Server(const Server&) = delete;
    Server& operator=(const Server&) = delete;

    /// One tick: takes in what has come, lets the skirmish go on, and sends what is to be told. `now` is the
    /// time of day in seconds since 1970, for tickets. Intents of the server's own, of bots say, and updates
    /// of a game that moves its bodies come on top.
    const SkirmishEvents& tick(std::int64_t now, std::span<const Intent> own = {},
                               std::span<const BodyUpdate> updates = {});

    const Skirmish& skirmish() const;
    /// Direct access, for bots and for those who set something up.
    Skirmish& skirmish();
    /// What went into the last tick, for replays.
    std::span<const Intent> intents() const;

    /// Who came into the skirmish before the last tick, and who left it: what a replay must know.
    std::span<const BodyId> entered() const;
    std::span<const BodyId> departed() const;
    /// The entrant that a seat comes in as; it refers to the seat. Precondition (asserted): there is such a
    /// seat.
    Entrant entrant_of(BodyId player) const;

    /// Tells something of the game's own. `remembered`: late joiners are told, until forget_notice().
    void notify(Notice notice, const Audience& audience, bool remembered = false);
    void forget_notice(NoticeKind kind, BodyId who);
    /// The game may set properties of its own; those that the server sets are in docs/networking.md.
    Ledger& ledger();
    const Ledger& ledger() const;

    std::vector<PeerReadout> peers() const;
    /// Of everybody who has played, peers that are gone counted: by kind.
    FaultCounts faults() const;
    /// What happened at the door in the last tick.
    std::span<const ConnectionEvent> connections() const;

    /// Sends somebody away.
    void remove(BodyId player, const std::string& reason);
    /// Tells everybody that it is over, and closes. To be called once, last.
    void shut_down(const std::string& reason);

    struct Impl; ///< for its own code alone

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
