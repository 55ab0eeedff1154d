#pragma once
#include <avrek/core/ids.h>
#include <avrek/data/game_data.h>
#include <avrek/data/tuned_arsenal.h>
#include <avrek/net/ledger.h>
#include <avrek/net/noise.h>
#include <avrek/net/notices.h>
#include <avrek/net/tickets.h>
#include <avrek/net/traffic.h>
#include <avrek/net/transport.h>
#include <avrek/skirmish/game_tick.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <variant>
#include <vector>

/// The client of a networked match: it sends the player's intents, predicts the player's own combatant, and
/// shows remote players as the server says.
namespace avrek {

/// Settings of a client.
struct ClientSettings {
    /// Extra delay before remote players are drawn. Grows with jitter.
    Duration interpolation = std::chrono::milliseconds{70};
    std::int32_t send_every = 2;       ///< ticks between two packets, 1 to 8
    std::int32_t repeats = 6;          ///< past ticks that each packet repeats, 0 to 8
    Locomotions locomotions{};         ///< the server's: it refuses clients with other names or versions
    const PoseSource* poses = nullptr; ///< the server's too; null: BlendedPoses
};

/// State of a client's connection.
enum class ClientState : std::uint8_t {
    connecting, ///< connecting, or waiting for the answer
    playing,
    refused, ///< see reason() and differing()
    ended,   ///< see reason()
};

/// State of a predicted event.
enum class EventMark : std::uint8_t {
    predicted, ///< show it and play its sound, once
    confirmed, ///< the server has it too
    withdrawn, ///< a misprediction: it did not happen
};

/// An event of the player's own combatant.
struct OwnEvent {
    EventMark mark = EventMark::predicted;
    std::uint64_t id = 0; ///< the same from the first mark to the last; unique
    Tick tick = 0;
    Time at{};
    /// As it was predicted. Actions between two snapshots stand or fall together; one about a remote body
    /// says "it is not there".
    std::variant<ShotEvent, HandlingEvent, SwingEvent, ActionEvent> event{};
    std::vector<SegmentEvent> segments{}; ///< with `predicted`: path of a hitscan shot's pellets
};

/// News about the values of the running fight.
struct TuningNews {
    Tick tick = -1;                      ///< at whose start they change; -1: the answer to a proposal
    TuningStep step{};                   ///< texts of the step
    std::vector<std::string> refusals{}; ///< faults that an answer names; empty: it is taken
};

/// Shots by a remote player since the last snapshot.
struct SeenShots {
    BodyId who = nobody;
    std::optional<WeaponId> weapon{};
    std::int32_t count = 0;
    Vector3 position = Vector3::Zero(); ///< position of its feet
    Look look{};
};

/// A remote player as drawn at Client::shown_at(): place and look between two snapshots, all else as in the
/// earlier one.
struct SeenPlayer {
    Vector3 position = Vector3::Zero(); ///< position of its feet
    Look look{};
    std::optional<WeaponId> weapon{}; ///< weapon in hand
    BodyState state = BodyState::active;
    bool on_back = false; ///< while it lies
    bool dead = false;
    bool airborne = false;
    bool crouching = false;
    bool aiming = false;
    bool reloading = false;
    bool guarding = false;
    PoseState pose{}; ///< for the pose source; the joints themselves are in view().scene()
};

/// A weapon that lies about.
struct SeenWeapon {
    std::int32_t number = 0; ///< unique among weapons
    WeaponId weapon{};
    std::int32_t rounds = 0; ///< rounds in its magazine
    Vector3 position = Vector3::Zero();
};

/// A hazard.
struct SeenHazard {
    std::int32_t number = 0; ///< unique among hazards
    HazardId hazard{};
    TeamId team{}; ///< team that placed it
    Pose pose{};
};

/// Events that receive() and tick() return; each event once, from one of the two.
struct ClientEvents {
    std::vector<OwnEvent> own{};
    std::vector<Notice> notices{}; ///< as they arrive
    /// The same notices, each when the picture comes to its time: draw by these what remote players do.
    std::vector<Notice> shown{};
    std::vector<LedgerEntry> ledger{};
    std::vector<SeenShots> shots{};
    std::vector<Noise> noises{};     ///< made by foes that are hidden
    std::vector<TuningNews> tuned{}; ///< steps as they arrive, and answers to propose()
};

/// Maximum size of a step that a client asks for, packed, in bytes.
inline constexpr std::size_t max_proposal_bytes = 1100;

/// Counters of a client.
struct ClientCounts {
    std::uint64_t corrections = 0;    ///< mispredicted states that the server corrected
    Metres corrected = 0.0;           ///< total distance of the corrections
    std::uint64_t snapshots = 0;      ///< snapshots that arrived in time
    std::uint64_t too_old = 0;        ///< snapshots that arrived after a newer one
    std::uint64_t not_understood = 0; ///< packets, or changes from unknown snapshots
    std::uint64_t notices = 0;
    std::uint64_t notice_chain = 0; ///< see PeerReadout
    Traffic up{};
    Traffic down{};
};

/// Returns the faults of settings; each diagnostic names its member. Without any, a Client can be made of
/// them.
std::vector<Diagnostic> validate(const ClientSettings& settings);

/// A client of a networked match. Data and transport must outlive it.
///
///     Client client{data, {}, transport};
///     show(client.receive(clock()));
///     while (client.is_tick_due(clock())) { show(client.tick(read_input())); }
class Client {
  public:
    /// Refers to data and transport. The plan's spawn points and waypoints are in view(). Precondition
    /// (asserted): validate() finds nothing.
    Client(const GameData& data, const ClientSettings& settings, Transport& transport);
    ~Client();
    Client(const Client&) = delete;
    Client& operator=(const Client&) = delete;

    /// Handles received packets. `local` is a steady clock of the client's own; only differences count.
    [[nodiscard]] ClientEvents receive(Time local);

    /// Returns whether the next tick is due.
    bool is_tick_due(Time local) const;
    /// Predicts a tick of the player's combatant and sends its intent. Precondition (asserted): it is
    /// playing.
    [[nodiscard]] ClientEvents tick(Intent wanted);

    /// Sends a command to the game on the server, made for the next tick; the own hook sees it in that tick.
    /// Returns false if it is not playing. Precondition (asserted): at most `max_command_bytes`.
    bool command(std::uint16_t kind, std::span<const std::byte> bytes = {});
    /// Asks the server to change the values of the running fight, for players whose ticket allows it. The
    /// answer comes with ClientEvents::tuned. Changes nothing and says why if it is not playing, or the step
    /// takes more than max_proposal_bytes when packed.
    Outcome propose(const TuningStep& step);
    /// Sets the game's turn before each predicted tick: see GameTick. What the own combatant does by it is
    /// predicted, then confirmed or withdrawn.
    void on_tick(GameTickHook hook);
    /// Sets the state of the game's own that is rolled back with the own combatant; null: none. It must
    /// outlive the client.
    void set_companion(CompanionState* companion);

    /// Tells the server, and disconnects.
    void leave();

    /// Returns a ticket with which its holder can come back to the match, once; none before it plays. It is
    /// bound to the same keys.
    const std::optional<Ticket>& return_ticket() const;

    /// Returns the state of the connection.
    ClientState state() const;
    /// Returns the reason why it was refused or ended.
    const std::string& reason() const;
    /// Returns the differing entries of the arsenal, if it was refused for that.
    std::span<const std::string> differing() const;
    /// Returns the player's own combatant.
    BodyId you() const;

    /// Returns what the player sees, for drawing: the own combatant as predicted, remote players as drawn,
    /// the dead too whose bodies are gone, and all projectiles in flight. A remote player who is back is dead
    /// until it is drawn alive. Remote projectiles are drawn as late as remote players, and pass through
    /// bodies until the server says where they end. Its time is that of the next own tick. Precondition
    /// (asserted): it is or was playing.
    const Skirmish& view() const;
    /// Returns the own combatant alone, as predicted, with its projectiles in flight. Precondition
    /// (asserted): it is or was playing.
    const Skirmish& predicted() const;
    /// Returns the position at which to draw the own body: corrections are smoothed over about 0.1 s.
    Vector3 drawn_position() const;
    /// Returns recent snapshots of all bodies, at server times.
    const Scene& picture() const;
    /// Returns a remote player as drawn now, or none if no snapshot shows it.
    std::optional<SeenPlayer> seen(BodyId id) const;
    /// Returns the share of the last own tick that has passed, 0 to 1: draw the own body by it between
    /// Fighter::position_before and Fighter::motion.
    double tick_share(Time local) const;
    /// Returns the server time at which remote players are drawn in the next own tick.
    Time shown_at() const;
    bool has_private_seed() const; ///< the server keeps its spread seed

    /// Returns the pickups as the player knows them, by index: at first those of the plan, then as notices
    /// say. One that the player does not know of is not there; `back_at` is not told.
    std::span<const PickupState> pickups() const;
    /// Returns the weapons that lie about, as the player knows them, in order of their numbers.
    std::span<const SeenWeapon> dropped() const;
    /// Returns the hazards as the player knows them, in order of their numbers: at first those of the plan.
    std::span<const SeenHazard> hazards() const;

    /// Returns the ledger as received so far.
    const Ledger& ledger() const;
    /// Sets a callback for each change of the ledger during receive().
    void on_ledger(std::function<void(const LedgerEntry&)> changed);
    /// Returns the counters.
    ClientCounts counts() const;

    struct Impl; ///< private

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
