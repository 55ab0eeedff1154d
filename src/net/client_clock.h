#pragma once
#include <avrek/core/time.h>

#include <algorithm>
#include <cstdint>

/// The clock of a client: it runs ahead of the server, so that intents are there in time.
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
            const std::int32_t more = min_ - wanted_ - 1;
            // Slowly, as the age of the picture follows slowly; at once when the server stood still.
            shift(more > far_ahead ? -more : -1, next);
        } else if (seen_ >= window) {
            seen_ = 0;
        }
    }

  private:
    static constexpr int window = 32;
    static constexpr std::int32_t far_ahead = 16; // ticks

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

} // namespace avrek::detail
