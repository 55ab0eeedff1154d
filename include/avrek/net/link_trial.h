#pragma once
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/client.h>
#include <avrek/net/link_network.h>
#include <avrek/net/server.h>
#include <avrek/skirmish/bout.h>

#include <array>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

/// A networked match in one process: a server, bots as its clients, and simulated links between them, in
/// virtual time. The same setup and seed give the same match.
namespace avrek {

/// Setup of a link trial.
struct LinkTrialSetup {
    BoutSetup bout{};
    std::vector<LinkSpec> links{}; ///< at least one; the clients take turns
    SkirmishSettings skirmish{};
    bool private_seed = false;
    InterestSettings interest{};
    std::int32_t budget = ServerSettings{}.budget; ///< bytes per second to each client
    Duration interpolation = std::chrono::milliseconds{70};
    std::vector<Duration> joins{}; ///< join time of each client; beyond the list: at the start
    std::size_t pacifists = 0;     ///< the last clients, which do not fire
};

/// Outcome of a hit that a client predicted.
enum class HitFate : std::uint8_t {
    confirmed,
    missed,  ///< the server's shot did not hit that body
    beyond,  ///< the same, and the view delay was beyond max_rewind
    gone,    ///< the body was dead
    covered, ///< the body was in cover for longer than cover_grace
    late,    ///< the shooter had died, and there are no trades
    /// The server had no such shot: the shooter had died, or its intent came too late.
    not_fired,
};

/// Number of outcomes.
inline constexpr std::size_t hit_fate_count = 7;

/// Returns the words for an outcome.
std::string_view to_string(HitFate fate);

/// Times to kill, in order of measurement. Hits more than three seconds apart are separate engagements.
struct TimesToKill {
    /// Shooter: from its first predicted hit to the news of the death.
    std::vector<Duration> seen{};
    std::vector<Duration> on_server{}; ///< server: from the first damage to the death
    std::vector<Duration> felt{};      ///< victim: from the news of the first hit to that of the death
};

/// Result for one client.
struct LinkTrialPlayer {
    BoutMember member{};
    LinkSpec link{};
    ClientState state = ClientState::connecting;
    std::string reason{};      ///< why it was refused or has ended
    Duration complete_after{}; ///< from joining to the first equal ledger
    bool was_complete = false;
    Duration round_trip{};  ///< as the server measures it
    double lost_down = 0.0; ///< share of packets lost, from the server
    double lost_up = 0.0;
    double played_seconds = 0.0;
    ClientCounts counts{};
    std::uint64_t missing = 0;  ///< ticks without an intent on the server
    std::uint64_t left_out = 0; ///< bodies left out of its snapshots for want of room
    FaultCounts faults{};
    std::array<std::uint64_t, hit_fate_count> hits{};
    std::uint64_t shots = 0;     ///< predicted shots
    std::uint64_t withdrawn = 0; ///< mispredicted events
    std::uint64_t doubled = 0;   ///< events marked twice; always 0
    std::uint64_t deaths = 0;
    std::uint64_t deaths_in_cover = 0; ///< in cover from the killer when the news arrived
    std::uint64_t trades = 0;          ///< mutual kills within half a second
    TimesToKill as_shooter{};
    std::vector<Duration> felt{}; ///< times to kill as a victim
    bool ledger_equal = false;    ///< its ledger equals the server's at the end
    bool dead_equal = false;      ///< so does its list of the dead
    bool notices_equal = false;   ///< it got each of its notices once, in order
};

/// Result of a link trial.
struct LinkTrialReport {
    std::vector<LinkTrialPlayer> players{};
    Tick ticks = 0;
    bool over = false;
    std::uint64_t kills = 0;
    std::uint64_t killed_in_cover = 0; ///< kills of targets in cover, as the server saw it
};

/// A match of bots over simulated links, driven tick by tick and measured.
class LinkTrial {
  public:
    /// The data must outlive it.
    LinkTrial(const GameData& data, const LinkTrialSetup& setup, std::uint64_t seed);
    ~LinkTrial();
    LinkTrial(const LinkTrial&) = delete;
    LinkTrial& operator=(const LinkTrial&) = delete;

    /// Advances until the server has done one more tick: wait(), then tick(). Returns its events.
    std::span<const Event> step();
    /// Advances until the server's next tick is due; clients do theirs meanwhile.
    void wait();
    /// Does the server's tick.
    std::span<const Event> tick();

    /// Returns the server.
    const Server& server() const;
    /// Returns the server, to change it between ticks.
    Server& server();
    /// Returns the simulated network.
    LinkNetwork& network();
    /// Returns the client of a player, counted from 0.
    const Client& client(std::size_t player) const;

    /// Lets packets on their way arrive, for at most a minute, and returns the report. Call it once, last.
    LinkTrialReport finish();

    struct Impl; ///< private

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
