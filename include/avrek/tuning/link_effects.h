#pragma once
#include <avrek/arsenal/link_spec.h>
#include <avrek/arsenal/match_spec.h>
#include <avrek/core/time.h>
#include <avrek/tuning/kill_distribution.h>

#include <vector>

/// Effects of the network on an engagement, by formula from the link and the server. A LinkTrial simulates
/// what has no formula, such as deaths in cover in a real level.
namespace avrek {

/// Network settings, as in ServerSettings and ClientSettings.
struct NetworkSetup {
    TickRate rate{64};
    std::int32_t snapshot_interval = 2; ///< ticks between snapshots, at least 1
    Duration interpolation = std::chrono::milliseconds{70};
    std::int32_t ticks_in_hand = 3; ///< ticks by which a client's intents come early
    LagCompensationSpec lag_compensation{};
};

/// Delays of a player over a link.
struct LinkView {
    /// Client clock ahead of the server: half of the round trip, and ticks in hand.
    Duration ahead{};
    Duration snapshot_age{}; ///< mean age of the remote players as drawn, at the server
    Duration view_delay{};   ///< age of the remote players when the player's input counts
    Duration news_delay{};   ///< mean delay from an event on the server to its news
    /// Part of the view delay beyond max_rewind; shots must lead by this.
    Duration unrewound{};
};
/// Returns the delays of a player over a link.
LinkView view_over(const LinkSpec& link, const NetworkSetup& network);

/// Returns the engagement for a shooter with this view: against a moving target, the part that is not rewound
/// makes it miss.
Engagement engagement_over(const Engagement& engagement, const LinkView& view);

/// Times from the first hit to the death, as each side experiences them.
struct ExperiencedTimes {
    std::vector<KillPoint> on_server{}; ///< on the server, see time_from_first_hit()
    Duration as_shooter_adds{};         ///< added for the shooter: the death is reported late
    Duration as_victim_adds{};          ///< maximum deviation for the victim: both arrive late, unevenly
    double answerable = 0.0;            ///< chance that the victim has longer than its reaction
    Duration median{};                  ///< median of `on_server`
};
/// Returns the times as shooter, server and victim experience them. Computes the distribution of the
/// engagement.
ExperiencedTimes experienced(const Engagement& engagement, const LinkView& shooter, const LinkSpec& victims,
                             Duration victims_reaction, const NetworkSetup& network,
                             const DistributionSettings& settings = {});

/// Time for which a victim in cover can still die, on the server and in its own view.
struct CoverDelay {
    Duration on_server{};
    Duration felt{};
};
/// Returns how long a victim in cover can still die.
CoverDelay death_after_cover(const LinkView& shooter, const LinkView& victim, const NetworkSetup& network);

/// Returns the head start of a player who comes round a corner.
Duration corner_advantage(const LinkView& comes, const LinkView& waits);

} // namespace avrek
