#pragma once
#include <avrek/core/time.h>

#include <algorithm>
#include <cstdint>

/// The two clocks of a client: its own, which runs ahead of the server so that what it wants is there in
/// time, and that of the picture, which runs behind it so that what is shown has come in time.
namespace avrek::detail {

/// When the own ticks begin, by the local clock.
class OwnClock {
  public:
    void start(Time local, Tick first, TickRate rate, std::int32_t wanted_early) {
        rate_ = rate;
        wanted_ = wanted_early;
        origin_ = local - tick_span(first, rate).begin;
        heard_from_ = first;
        seen_ = 0;
    }
    /// The local time at which a tick begins.
    Time begin_of(Tick tick) const { return tick_span(tick, rate_).begin + origin_; }
    Duration origin() const { return origin_; }

    /// After the server's tick `there` the newest intent, or the last of several, had come by `early` ticks
    /// before it was needed. `next` is the next own tick.
    void hear(std::int32_t early, Tick there, Tick next) {
        if (there + 1 + early < heard_from_) {
            return; // it was sent before the clock was changed last
        }
        min_ = seen_ == 0 ? early : std::min(min_, early);
        ++seen_;
        if (early < 0) {
            shift(wanted_ - early, next);
        } else if (seen_ >= window && min_ < wanted_) {
            shift(wanted_ - min_, next);
        } else if (seen_ >= window && min_ > wanted_ + 1) {
            shift(-std::min(min_ - wanted_, 4), next);
        } else if (seen_ >= window) {
            seen_ = 0;
        }
    }

  private:
    static constexpr int window = 32;

    void shift(std::int32_t ticks, Tick next) {
        const Span one = tick_span(0, rate_);
        origin_ -= std::min(ticks, 8 * rate_.hertz) * (one.end - one.begin);
        // The last of the ticks that come together now is the first that is as early as wanted.
        heard_from_ = next + std::max(0, ticks) + wanted_;
        seen_ = 0;
    }

    TickRate rate_{};
    std::int32_t wanted_ = 3;
    Duration origin_{};
    std::int32_t min_ = 0;
    int seen_ = 0;
    Tick heard_from_ = 0; // own ticks from here on were sent by the clock as it is
};

/// Finds the server time to draw, by the local clock.
class PictureClock {
  public:
    explicit PictureClock(Duration min_delay = {}) : min_delay_(min_delay), delay_(min_delay) {}

    /// A moment of the server has come.
    void hear(Time local, Time moment) {
        const Duration offset = local - moment;
        if (!heard_) {
            heard_ = true;
            offset_ = offset;
        }
        // The least is what the link takes at best; it may rise slowly, as clocks drift.
        offset_ = std::min(offset, offset_ + std::chrono::microseconds{20});
        late_ = std::max(offset - offset_, late_ - late_ / 64);
        const Duration target = min_delay_ + late_;
        // Not faster than a twentieth of what passes between two moments of a slow stream.
        const Duration step = std::chrono::microseconds{1500};
        delay_ = target > delay_ ? std::min(target, delay_ + step) : std::max(target, delay_ - step / 4);
    }
    bool has_heard() const { return heard_; }
    Time shown_at(Time local) const { return local - offset_ - delay_; }
    Duration delay() const { return delay_; }

  private:
    Duration min_delay_;
    Duration delay_;
    Duration offset_{};
    Duration late_{}; // extra delay of packets over the best case
    bool heard_ = false;
};

} // namespace avrek::detail
