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
    return from_seconds(to_seconds(every) * again * std::max(1.0, link.loss_run));
}

} // namespace

LinkView view_over(const LinkSpec& link, const NetworkSetup& network) {
    const Duration tick = tick_of(network);
    const Duration every = tick * network.snapshot_interval;
    LinkView view;
    // Packets are late by up to the jitter; both clocks keep clear of nearly all of it.
    view.ahead = link.latency / 2 + link.jitter + tick * network.ticks_in_hand;
    view.snapshot_age = link.latency / 2 + network.interpolation + link.jitter;
    view.view_delay = view.ahead + view.snapshot_age;
    view.news_delay =
        link.latency / 2 + link.jitter / 2 + every / 2 + tick / 2 + waiting_for_lost(link, every);
    view.unrewound = std::max(Duration{}, view.view_delay - network.lag_compensation.max_rewind);
    return view;
}

Engagement engagement_over(const Engagement& engagement, const LinkView& view) {
    Engagement over = engagement;
    // The lag of a profile is even within twice what it typically is; this one is always whole.
    over.shooter.tracking += view.unrewound / 2;
    return over;
}

ExperiencedTimes experienced(const Engagement& engagement, const LinkView& shooter, const LinkSpec& victims,
                             Duration victims_reaction, const NetworkSetup& network,
                             const DistributionSettings& settings) {
    ExperiencedTimes times;
    times.on_server = time_from_first_hit(engagement_over(engagement, shooter), settings);
    // A shot counts when the server gets to the tick of the shooter's clock in which it was fired.
    times.as_shooter_adds = shooter.ahead + shooter.news_delay;
    times.as_victim_adds = victims.jitter + tick_of(network) * network.snapshot_interval;
    double longer = 0.0;
    double before = 0.0;
    for (const KillPoint& point : times.on_server) {
        longer += point.at > victims_reaction ? point.killed - before : 0.0;
        before = point.killed;
    }
    const auto half = std::find_if(times.on_server.begin(), times.on_server.end(),
                                   [](const KillPoint& point) { return point.killed >= 0.5; });
    times.median = half != times.on_server.end() ? half->at : Duration{};
    times.answerable = longer;
    return times;
}

CoverDelay death_after_cover(const LinkView& shooter, const LinkView& victim, const NetworkSetup& network) {
    CoverDelay delay;
    delay.on_server = std::min(
        {shooter.view_delay, network.lag_compensation.max_rewind, network.lag_compensation.cover_grace});
    // By its own clock the victim was there earlier, and it hears of it later.
    delay.felt = delay.on_server + victim.ahead + victim.news_delay;
    return delay;
}

Duration corner_advantage(const LinkView& comes, const LinkView& waits) {
    // The side that comes knows its own place at once; the side that waits sees it after the server has sent
    // it.
    return comes.ahead + waits.snapshot_age;
}

} // namespace avrek
