#include "metrics.h"

#include "command_line.h"

#include <fmt/format.h>
#include <prometheus/collectable.h>
#include <prometheus/counter.h>
#include <prometheus/exposer.h>
#include <prometheus/gauge.h>
#include <prometheus/histogram.h>
#include <prometheus/metric_family.h>
#include <prometheus/registry.h>

#include <array>
#include <atomic>
#include <chrono>
#include <string>
#include <utility>
#include <vector>

namespace avrek::cli {

// Says at each question whether the server still ticks: it is asked in a thread of its own.
class Metrics::Health final : public prometheus::Collectable {
  public:
    void take(bool is_over) {
        is_over_ = is_over;
        ticked_at_ = Clock::now().time_since_epoch();
    }
    std::vector<prometheus::MetricFamily> Collect() const override {
        const std::chrono::duration<double> since = Clock::now().time_since_epoch() - ticked_at_.load();
        const double up = since > max_silence ? 0 : is_over_ ? 2 : 1;
        return {
            family("avrek_up", "Whether it ticks: 0 if not, 1 while the match runs, 2 when it is over", up),
            family("avrek_seconds_since_tick", "Time since the last tick was over", since.count())};
    }

  private:
    using Clock = std::chrono::steady_clock;
    static constexpr std::chrono::seconds max_silence{1};

    static prometheus::MetricFamily family(const char* name, const char* help, double value) {
        prometheus::ClientMetric metric;
        metric.gauge.value = value;
        return {name, help, prometheus::MetricType::Gauge, {metric}};
    }

    std::atomic<Clock::duration> ticked_at_ = Clock::now().time_since_epoch();
    std::atomic<bool> is_over_ = false;
};

struct Metrics::Serving {
    std::shared_ptr<prometheus::Registry> registry = std::make_shared<prometheus::Registry>();
    std::shared_ptr<Health> health = std::make_shared<Health>();
    std::unique_ptr<prometheus::Exposer> exposer{};

    prometheus::Gauge& players = prometheus::BuildGauge()
                                     .Name("avrek_players")
                                     .Help("Clients that are playing")
                                     .Register(*registry)
                                     .Add({});
    prometheus::Gauge& tick =
        prometheus::BuildGauge().Name("avrek_tick").Help("Ticks done").Register(*registry).Add({});
    prometheus::Histogram& seconds = prometheus::BuildHistogram()
                                         .Name("avrek_tick_seconds")
                                         .Help("What a tick took, everything included")
                                         .Register(*registry)
                                         .Add({}, prometheus::Histogram::BucketBoundaries{
                                                      1e-4, 2.5e-4, 5e-4, 1e-3, 2.5e-3, 5e-3, 1e-2, 2.5e-2});
    prometheus::Counter& shots =
        prometheus::BuildCounter().Name("avrek_shots_total").Help("Shots fired").Register(*registry).Add({});
    prometheus::Counter& kills = prometheus::BuildCounter()
                                     .Name("avrek_kills_total")
                                     .Help("Deaths with a killer")
                                     .Register(*registry)
                                     .Add({});
    prometheus::Family<prometheus::Gauge>& sent = prometheus::BuildGauge()
                                                      .Name("avrek_sent_bytes")
                                                      .Help("To the clients that are playing, by kind")
                                                      .Register(*registry);
    prometheus::Family<prometheus::Gauge>& faults = prometheus::BuildGauge()
                                                        .Name("avrek_peer_faults")
                                                        .Help("Packets that do not belong, by kind")
                                                        .Register(*registry);
    prometheus::Family<prometheus::Gauge>& signs = prometheus::BuildGauge()
                                                       .Name("avrek_peer_signs")
                                                       .Help("Signs of unfair play of those that are playing")
                                                       .Register(*registry);
    prometheus::Family<prometheus::Gauge>& strangers =
        prometheus::BuildGauge()
            .Name("avrek_strangers")
            .Help("Handshakes and datagrams of no player, by outcome")
            .Register(*registry);
};

Metrics::Metrics(std::uint16_t port) : serving_(std::make_unique<Serving>()) {
    try {
        serving_->exposer = std::make_unique<prometheus::Exposer>(fmt::format("127.0.0.1:{}", port), 1);
    } catch (const std::exception&) {
        throw WrongCall{
            {fmt::format("error: --metrics: port {} of 127.0.0.1 cannot be listened at; allowed: a TCP "
                         "port that is free",
                         port)}};
    }
    serving_->exposer->RegisterCollectable(serving_->registry);
    serving_->exposer->RegisterCollectable(serving_->health, "/health");
}

Metrics::~Metrics() = default;

void Metrics::take(const Server& server, const QuicCounts& network, std::chrono::nanoseconds took) {
    Serving& to = *serving_;
    const std::span<const Event> events = server.skirmish().events();
    to.health->take(server.skirmish().is_over());
    to.tick.Set(static_cast<double>(server.skirmish().tick()));
    to.seconds.Observe(std::chrono::duration<double>(took).count());
    to.shots.Increment(static_cast<double>(count_of<ShotEvent>(events)));
    for (const KillEvent& kill : events_of<KillEvent>(events)) {
        to.kills.Increment(kill.by != nobody ? 1 : 0);
    }
    if (server.skirmish().tick() % server.skirmish().settings().rate.hertz != 0) {
        return; // the rest once a second
    }
    std::array<double, traffic_kind_count> bytes{};
    double players = 0;
    for (const PeerReadout& peer : server.peers()) {
        players += peer.is_playing ? 1 : 0;
        for (std::size_t kind = 0; kind < traffic_kind_count; ++kind) {
            bytes[kind] += static_cast<double>(peer.down.bytes[kind]);
        }
    }
    to.players.Set(players);
    for (std::size_t kind = 0; kind < traffic_kind_count; ++kind) {
        to.sent.Add({{"kind", std::string{to_string(static_cast<TrafficKind>(kind))}}}).Set(bytes[kind]);
    }
    for (const auto& [outcome, count] :
         {std::pair{"handshake", network.handshakes}, std::pair{"refused", network.refused},
          std::pair{"full", network.full}, std::pair{"put_off", network.put_off},
          std::pair{"asked_for_token", network.not_validated}, std::pair{"unknown", network.unknown}}) {
        to.strangers.Add({{"outcome", outcome}}).Set(static_cast<double>(count));
    }
    const FaultCounts faults = server.faults();
    for (std::size_t kind = 0; kind < peer_fault_count; ++kind) {
        to.faults.Add({{"kind", std::string{to_string(static_cast<PeerFault>(kind))}}})
            .Set(static_cast<double>(faults.counts[kind]));
    }
    for (const PeerReadout& peer : server.peers()) {
        const std::string player = std::to_string(static_cast<std::uint32_t>(peer.player));
        for (const auto& [sign, count] :
             {std::pair{"early", peer.signs.early}, std::pair{"stale", peer.signs.stale},
              std::pair{"turns", peer.signs.turns}, std::pair{"unseen", peer.signs.unseen}}) {
            if (peer.is_playing) {
                to.signs.Add({{"player", player}, {"sign", sign}}).Set(static_cast<double>(count));
            }
        }
    }
}

} // namespace avrek::cli
