#pragma once
#include <avrek/arsenal/link_spec.h>
#include <avrek/arsenal/match_spec.h>
#include <avrek/core/time.h>
#include <avrek/tuning/kill_distribution.h>

#include <vector>

/// What the network between them makes of an engagement: all by formula, from what a link and a server are.
/// What cannot be had so (deaths behind cover in a real level, say) a LinkTrial plays.
namespace avrek {

/// How a server runs and what its clients do; as ServerSettings and ClientSettings have them.
struct NetworkSetup {
    TickRate rate{64};
    std::int32_t snapshot_interval = 2; ///< ticks between two moments that clients are sent, at least 1
    Duration interpolation = std::chrono::milliseconds{70};
    std::int32_t ticks_in_hand = 3; ///< by which a client's wishes come early
    LagCompensationSpec lag_compensation{};
};

/// What a player lives with.
struct LinkView {
    Duration ahead{}; ///< its own clock of the server's: half of the way there and back, and what is in hand
    Duration shown{}; ///< by which what it sees of others is older than the server's present, on average
    Duration view_delay{}; ///< both: it sees others so much later than what it does counts
    Duration told{};       ///< from something's happening on the server to its knowing, on average
    Duration
        unrewound{}; ///< of `behind`, what is beyond LagCompensationSpec::rewind: its shots must lead by this
};
LinkView view_over(const LinkSpec& link, const NetworkSetup& network);

/// The engagement as it is judged of a shooter with this view: of a target that moves, what is not rewound
/// makes it miss by so much.
Engagement engagement_over(const Engagement& engagement, const LinkView& view);

/// Times between the first hit and the death, as the three experience them.
struct ExperiencedTimes {
    std::vector<KillPoint> on_server{}; ///< by the server, see time_from_first_hit()
    Duration as_shooter_adds{};         ///< the shooter sees its hit at once, and the death so much later
    Duration as_victim_adds{};          ///< at most: both come to the victim late, but not evenly
    double answerable = 0.0;            ///< chance that the victim knows for longer than its reaction takes
    Duration median{};                  ///< of `judged`
};
ExperiencedTimes experienced(const Engagement& engagement, const LinkView& shooter, const LinkSpec& victims,
                             Duration victims_reaction, const NetworkSetup& network,
                             const DistributionSettings& settings = {});

/// How long after it has got behind cover a victim can still die, as the server sees it, and as the victim
/// does.
struct CoverDelay {
    Duration on_server{};
    Duration felt{};
};
CoverDelay death_after_cover(const LinkView& shooter, const LinkView& victim, const NetworkSetup& network);

/// By how much who comes round a corner sees the other before it is seen.
Duration corner_advantage(const LinkView& comes, const LinkView& waits);

} // namespace avrek
