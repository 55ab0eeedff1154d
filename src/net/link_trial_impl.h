#pragma once
#include <avrek/net/link_trial.h>

#include <map>
#include <memory>
#include <optional>
#include <set>
#include <tuple>
#include <vector>

namespace avrek::detail {

/// A hit that a client showed.
struct LookedHit {
    std::uint32_t shot = 0;
    std::int32_t pellet = 0;
    BodyId body = nobody;
    Time at{};
};

/// Hits of one on another, none of them long after the one before.
struct HitSeries {
    static constexpr Duration max_pause = std::chrono::seconds{3};

    Time first = Time::min();
    Time last = Time::min();

    void hit(Time at) {
        first = last == Time::min() || at - last > max_pause ? at : first;
        last = at;
    }
    /// Adds how long a kill at that time has taken, unless its last hit was long before: something else
    /// killed.
    void add_kill(Time at, std::vector<Duration>& times) const {
        if (at - last <= max_pause) {
            times.push_back(at - first);
        }
    }
};

/// One client of a trial, its bot, and what is measured of it.
struct TrialClient {
    LinkTrialPlayer report{};
    PeerId peer{};
    Transport* transport = nullptr;
    std::unique_ptr<Client> client{};
    std::optional<Bots> bots{};
    Time joined_at{};
    Duration clock{}; ///< error of its own clock
    bool fires = true;
    std::size_t ledger_size = 0; ///< size of the server's ledger when it joined

    std::vector<LookedHit> looked{};
    std::map<std::uint64_t, EventMark> marks{};
    std::map<BodyId, HitSeries> shown{}; ///< hits on somebody, since its last death
    std::map<BodyId, HitSeries> felt{};  ///< hits by somebody, since its own last death
};

} // namespace avrek::detail

namespace avrek {

struct LinkTrial::Impl {
    Impl(const GameData& data, const LinkTrialSetup& setup, std::uint64_t seed);

    const GameData& data;
    LinkTrialSetup setup;
    KeyPair issuer{};
    LinkNetwork network;
    std::unique_ptr<Server> server{};
    std::optional<Bots> bots{}; ///< that know the ways of the level
    std::vector<detail::TrialClient> clients{};

    struct ServerShot {
        Time at{};
        bool beyond = false;
        std::vector<std::tuple<std::int32_t, BodyId, Verdict>> met{}; ///< by pellet
    };
    std::map<std::pair<BodyId, std::uint32_t>, ServerShot> shots{};
    std::map<std::pair<BodyId, BodyId>, detail::HitSeries> damage{}; ///< by victim and attacker
    std::map<std::pair<BodyId, BodyId>, Time> kills{};               ///< the last, by killer and victim
    std::map<BodyId, Duration> covered{};                            ///< by target of a hit in this tick
    std::uint64_t kill_count = 0;
    std::uint64_t killed_in_cover = 0;

    void join(detail::TrialClient& one);
    void run_clients(Time now);
    void tick_client(detail::TrialClient& one, Time now);
    void measure(detail::TrialClient& one, const ClientEvents& events, Time now);
    void measure_notice(detail::TrialClient& one, const Notice& notice, Time now);
    void measure_server(std::span<const Event> events);
    void measure_kill(const KillEvent& kill);
    HitFate fate_of(BodyId who, const detail::LookedHit& hit) const;
    void finish_player(detail::TrialClient& one);
    detail::TrialClient* client_of(BodyId id);
    bool has_all(const detail::TrialClient& one) const; ///< that the server has sent
};

} // namespace avrek
