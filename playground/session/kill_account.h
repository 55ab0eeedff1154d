#pragma once
#include "linked_player.h"
#include <avrek/skirmish/skirmish.h>

#include <deque>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

/// Kills over a link, told three ways: as the shooter saw them, the server judged them, and the victim felt
/// them.
namespace avrek::playground {

/// One hit, in true time, which no machine of a real match has.
struct HitAccount {
    std::uint32_t shot = 0; ///< number of the shooter's shot
    double amount = 0.0;    ///< damage
    std::optional<RegionId> region{};
    Verdict verdict = Verdict::stands;

    std::optional<Time> fired{};    ///< the shooter saw its shot leave; none: a bot's, which has no link
    bool was_seen = false;          ///< in its picture the shot hit the victim
    std::optional<Vector3> drawn{}; ///< feet of the victim in its picture

    std::optional<Time> judged{};         ///< the server had it; none: its shot missed
    Duration view_delay{};                ///< rewind of the victim
    Vector3 rewound = Vector3::Zero();    ///< feet of the victim there
    Vector3 stood = Vector3::Zero();      ///< where they were for the server
    std::optional<Time> felt{};           ///< the victim heard of it; none: it has no link
    Vector3 felt_where = Vector3::Zero(); ///< where it had predicted itself then
    bool in_cover = false;                ///< a line from the shooter to it was blocked then, in its picture
};

/// A kill with the hits of its last three seconds.
struct KillAccount {
    BodyId by = nobody;
    BodyId who = nobody;
    Time killed{};              ///< the server's verdict
    std::optional<Time> felt{}; ///< the victim heard that it is dead
    std::vector<HitAccount> hits{};
};

/// Keeps accounts of the hits between players of a link.
class KillAccounts {
  public:
    /// Takes the news of a player's client.
    void take(const LinkedPlayer& player, const PlayerNews& news);
    /// Takes the events of a tick of the server, at a true time.
    void take(std::span<const Event> events, const Skirmish& server, Time now);

    /// Returns the last kills in which a linked player took part, at most 16, the newest last.
    const std::deque<KillAccount>& kills() const { return kills_; }

  private:
    struct Fired {
        BodyId by = nobody;
        std::uint32_t shot = 0;
        Time at{};
        std::optional<BodyId> hit{};
        Vector3 drawn = Vector3::Zero();
    };
    struct Touch { // a body that the server's shot touched
        BodyId by = nobody;
        BodyId who = nobody;
        std::uint32_t shot = 0;
        Time at{};
        Duration view_delay{};
        std::optional<RegionId> region{};
        Verdict verdict = Verdict::stands;
    };
    struct Open { // a hit that has not killed yet
        BodyId by = nobody;
        BodyId who = nobody;
        HitAccount hit{};
    };
    bool is_linked(BodyId who) const;
    void add_hit(const Touch& touch, double amount, const Skirmish& server, Time now);
    void take_kill(const KillEvent& kill, Time now);
    void take_felt(const LinkedPlayer& player, const Notice& notice, Time now);
    void forget_before(Time at);

    std::vector<BodyId> linked_{};
    std::deque<Fired> fired_{};
    std::deque<Open> open_{};
    std::vector<std::pair<BodyId, Duration>> view_delays_{}; ///< view delays of last shots
    std::deque<KillAccount> kills_{};
};

/// A kill in words, a line for each hit.
struct ToldKill {
    std::string title{};
    std::vector<std::string> shooter{};
    std::vector<std::string> server{};
    std::vector<std::string> victim{};
};

/// Tells a kill, with times since the first that is known of it.
ToldKill told(const KillAccount& kill, const Skirmish& server,
              const std::function<std::string(BodyId)>& name_of);
/// Returns the first true time of an account.
Time begin_of(const KillAccount& kill);
/// Returns the last true time of an account.
Time end_of(const KillAccount& kill);

} // namespace avrek::playground
