#pragma once
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/ledger.h>
#include <avrek/net/notices.h>
#include <avrek/net/tickets.h>
#include <avrek/net/traffic.h>
#include <avrek/net/transport.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// A player's end of a networked match: it sends what the player wants, shows at once what comes of it, and
/// shows the others as the server says.
namespace avrek {

struct ClientSettings {
    Ticket ticket{};
    /// Others are shown so much later than they could be at best, and more where packets come unevenly.
    Duration interpolation = std::chrono::milliseconds{70};
    std::int32_t send_every = 2; ///< ticks between two packets, 1 to 8
    std::int32_t repeats = 6;    ///< ticks that each packet says again, 0 to 8
};

enum class ClientState : std::uint8_t {
    connecting, ///< the connection is being made, or the answer is awaited
    playing,
    refused, ///< see reason() and differing()
    ended,   ///< see reason()
};

/// What became of something that the client has shown before it knew.
enum class EventMark : std::uint8_t {
    predicted, ///< show it, play it: once
    confirmed, ///< the server has it too
    withdrawn, ///< it was not so
};

/// Something that the player's own combatant did.
struct OwnEvent {
    EventMark mark = EventMark::predicted;
    EventKind kind = EventKind::shot; ///< shot, weapon or swing
    std::uint64_t id = 0;             ///< the same from the first mark to the last, and no other's
    Tick tick = 0;
    Time at{};
    ShotEvent shot{};       ///< of a shot, when predicted
    HandlingEvent weapon{}; ///< of a weapon, when predicted
    SwingEvent swing{};     ///< of a swing, when predicted
    std::vector<SegmentEvent>
        segments{}; ///< of a shot that arrives at once, when predicted: where its pellets go
};

/// Somebody else fired, so many times since the last moment that was shown.
struct SeenShots {
    BodyId who = nobody;
    std::int32_t weapon = -1;
    std::int32_t count = 0;
    Vector3 position = Vector3::Zero(); ///< of its feet
    Look look{};
};

/// Somebody as it was shown last.
struct SeenPlayer {
    Vector3 position = Vector3::Zero(); ///< of its feet
    Look look{};
    std::int32_t weapon = -1; ///< in hand: index into Arsenal::weapons
    BodyState state = BodyState::active;
    bool on_back = false; ///< while it lies
    bool dead = false;
    bool airborne = false;
    bool crouching = false;
    bool aiming = false;
    bool reloading = false;
    bool guarding = false;
};

/// What has happened, as receive() and tick() return it: each event once, by one of the two.
struct ClientEvents {
    std::vector<OwnEvent> own{};
    std::vector<Notice> notices{};
    std::vector<LedgerEntry> ledger{};
    std::vector<SeenShots> shots{};
};

struct ClientCounts {
    std::uint64_t corrections = 0;    ///< times that the server's state was not the predicted one
    Metres corrected = 0.0;           ///< by which its own body was moved in all of them
    std::uint64_t snapshots = 0;      ///< moments that have come in time to be shown
    std::uint64_t too_old = 0;        ///< and later than a newer one
    std::uint64_t not_understood = 0; ///< packets, or changes of moments that are not known any more
    std::uint64_t notices = 0;
    std::uint64_t notice_chain = 0; ///< see PeerReadout
    Traffic up{};
    Traffic down{};
};

/// Arsenal and transport must outlive it.
class Client {
  public:
    /// Of the plan the view has the spawn points and the points that bots walk to.
    Client(const Arsenal& arsenal, const ArsenalDigest& digest, Level level, LevelPlan plan,
           const ClientSettings& settings, Transport& transport);
    ~Client();
    Client(const Client&) = delete;
    Client& operator=(const Client&) = delete;

    /// Takes in what has come. `local` is a clock of the client's own, which must run evenly; only
    /// differences count.
    [[nodiscard]] ClientEvents receive(Time local);

    /// Whether it is time for the next tick of its own.
    bool is_tick_due(Time local) const;
    /// Lets its own combatant do a tick of what it wants, and sends that. Precondition (asserted): it is
    /// playing.
    [[nodiscard]] ClientEvents tick(Intent wanted);

    /// Tells the server, and ends.
    void leave();

    ClientState state() const;
    const std::string& reason() const;
    std::span<const std::string>
    differing() const; ///< entries of the arsenal, where that is why it was refused
    BodyId you() const;

    /// What the player sees, to be drawn from: its own combatant as predicted, the others where they are
    /// shown, and who is alive. Its time is that of the next own tick. Precondition (asserted): it is or was
    /// playing.
    const Skirmish& view() const;
    /// Its own combatant alone, as predicted, with what it has launched that still flies. Precondition
    /// (asserted): it is or was playing.
    const Skirmish& predicted() const;
    /// Where its own body is to be drawn: corrections are spread over a tenth of a second or so.
    Vector3 drawn_position() const;
    /// Everybody as shown lately, at the times of the server.
    const Scene& picture() const;
    /// Somebody whose body is there, as it was shown last; the picture has where it is drawn in between.
    std::optional<SeenPlayer> seen(BodyId id) const;
    /// The time of the server that others are shown at, for the next own tick.
    Time shown_at() const;
    bool has_private_seed() const; ///< the spread of its shots is not the server's

    const Ledger& ledger() const;
    /// Calls back for each change of the ledger, while receive() takes it in.
    void on_ledger(std::function<void(const LedgerEntry&)> changed);
    ClientCounts counts() const;

    struct Impl; ///< for its own code alone

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
