#include <avrek/tuning/link_effects.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

Duration tick_of(const NetworkSetup& network) {
    return from_seconds(1.0 / static_cast<double>(network.rate.hertz));
}

// The share of a moment's news that is lost, and comes with the next one.
Duration waiting_for_lost(const LinkSpec& link, Duration every) {
    const double again = link.loss / std::max(0.05, 1.0 - link.loss);
    return from_seconds(to_seconds(every) * again * std::max(1.0, link.burst));
}

} // namespace

LinkView view_over(const LinkSpec& link, const NetworkSetup& network) {
    const Duration tick = tick_of(network);
    const Duration every = tick * network.shown_every;
    LinkView view;
    // Packets are late by up to the jitter; both clocks keep clear of nearly all of it.
    view.ahead = link.latency / 2 + link.jitter + tick * network.ticks_in_hand;
    view.shown = link.latency / 2 + network.interpolation + link.jitter;
    view.behind = view.ahead + view.shown;
    view.told = link.latency / 2 + link.jitter / 2 + every / 2 + tick / 2 + waiting_for_lost(link, every);
    view.unjudged = std::max(Duration{}, view.behind - network.judging.rewind);
    return view;
}

Engagement engagement_over(const Engagement& engagement, const LinkView& view) {
    Engagement over = engagement;
    // The lag of a profile is even within twice what it typically is; this one is always whole.
    over.shooter.tracking += view.unjudged / 2;
    return over;
}

ExperiencedTimes experienced(const Engagement& engagement, const LinkView& shooter, const LinkSpec& victims,
                             Duration victims_reaction, const NetworkSetup& network,
                             const DistributionSettings& settings) {
    ExperiencedTimes times;
    times.judged = time_from_first_hit(engagement_over(engagement, shooter), settings);
    // A shot counts when the server gets to the tick of the shooter's clock in which it was fired.
    times.as_shooter_adds = shooter.ahead + shooter.told;
    times.as_victim_adds = victims.jitter + tick_of(network) * network.shown_every;
    double longer = 0.0;
    double before = 0.0;
    for (const KillPoint& point : times.judged) {
        longer += point.at > victims_reaction ? point.killed - before : 0.0;
        before = point.killed;
    }
    const auto half = std::find_if(times.judged.begin(), times.judged.end(),
                                   [](const KillPoint& point) { return point.killed >= 0.5; });
    times.median = half != times.judged.end() ? half->at : Duration{};
    times.answerable = longer;
    return times;
}

CoverDelay death_after_cover(const LinkView& shooter, const LinkView& victim, const NetworkSetup& network) {
    CoverDelay delay;
    delay.judged = std::min({shooter.behind, network.judging.rewind, network.judging.cover});
    // By its own clock the victim was there earlier, and it hears of it later.
    delay.felt = delay.judged + victim.ahead + victim.told;
    return delay;
}

Duration corner_advantage(const LinkView& comes, const LinkView& waits) {
    // Who comes knows where it is at once; who waits sees it when it has come to the server and back.
    return comes.ahead + waits.shown;
}

} // namespace avrek
