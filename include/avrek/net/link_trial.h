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

/// A whole networked match in one process: a server, bots as its clients, and links of every kind between
/// them, in time of its own. The same setup and seed give the same match.
namespace avrek {

struct LinkTrialSetup {
    BoutSetup bout{};
    std::vector<LinkSpec> links{}; ///< at least one: client after client takes the next
    SkirmishSettings skirmish{};
    bool private_seed = false;
    Duration interpolation = std::chrono::milliseconds{70};
    std::vector<Duration> joins{}; ///< when each client comes, in order; those beyond the list at the start
    std::size_t pacifists = 0;     ///< the last so many clients do not fire
};

/// What became of the hits that a client showed at once.
enum class HitFate : std::uint8_t {
    confirmed,
    missed,    ///< on the server the same shot did not meet that body
    beyond,    ///< the same, and it looked back farther than the rules allow
    gone,      ///< the body was dead by then
    covered,   ///< it was behind cover, by the rule
    late,      ///< the shooter was dead by then, by the rule
    not_fired, ///< on the server there was no such shot: the shooter had died, or what it wanted came too
               ///< late
};

inline constexpr std::size_t hit_fate_count = 7;

std::string_view to_string(HitFate fate);

/// Some times, in the order in which they were measured. Hits more than three seconds apart are not of one
/// engagement.
struct TimesToKill {
    std::vector<Duration>
        seen{}; ///< by the shooter: from the first hit that it showed to the news of the death
    std::vector<Duration> on_server{}; ///< by the server: from the first damage to the death
    std::vector<Duration> felt{}; ///< by the victim: from the news of the first hit to the news of the death
};

/// How it went for one client.
struct LinkTrialPlayer {
    BoutMember member{};
    LinkSpec link{};
    ClientState state = ClientState::connecting;
    Duration complete_after{}; ///< it joined, until its ledger was the server's for the first time
    bool was_complete = false;
    Duration round_trip{};  ///< as the server measures it
    double lost_down = 0.0; ///< share of the packets to it
    double lost_up = 0.0;
    double played_seconds = 0.0;
    ClientCounts counts{};
    std::uint64_t missing = 0; ///< ticks for which the server had nothing from it
    FaultCounts faults{};
    std::array<std::uint64_t, hit_fate_count> hits{};
    std::uint64_t shots = 0;     ///< that it showed
    std::uint64_t withdrawn = 0; ///< events that it showed and that were not so
    std::uint64_t doubled = 0;   ///< events that it showed, confirmed or withdrew twice: always 0
    std::uint64_t deaths = 0;
    std::uint64_t deaths_in_cover = 0; ///< by the time it knew, no line led to its killer any more
    std::uint64_t trades = 0;          ///< it and another killed each other within half a second
    TimesToKill as_shooter{};
    std::vector<Duration> felt{}; ///< as a victim
    bool ledger_equal = false;    ///< its ledger ended as the server's
    bool dead_equal = false;      ///< so did who is dead
    bool notices_equal = false;   ///< it got each notice for it, once and in order
};

struct LinkTrialReport {
    std::vector<LinkTrialPlayer> players{};
    Tick ticks = 0;
    bool over = false;
    std::uint64_t kills = 0;
    std::uint64_t killed_in_cover =
        0; ///< by shots on who was out of their sight by then, as the server judged
};

/// What happened in it, for those who watch: the server's events of a tick.
class LinkTrial {
  public:
    /// Arsenal and digest must outlive it.
    LinkTrial(const Arsenal& arsenal, const ArsenalDigest& digest, const Level& level, const LevelPlan& plan,
              const LinkTrialSetup& setup, std::uint64_t seed);
    ~LinkTrial();
    LinkTrial(const LinkTrial&) = delete;
    LinkTrial& operator=(const LinkTrial&) = delete;

    /// Lets time pass until the server has done one more tick: wait(), then tick(). Returns its events.
    const SkirmishEvents& step();
    /// Lets time pass until the server's next tick is due; clients do theirs meanwhile.
    void wait();
    /// Lets the server do it.
    const SkirmishEvents& tick();

    const Server& server() const;
    Server& server();
    LinkNetwork& network();
    const Client& client(std::size_t player) const;

    /// Lets what is on its way arrive, at most a minute of it, and says how it went. To be called once, last.
    LinkTrialReport finish();

    struct Impl; ///< for its own code alone

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
