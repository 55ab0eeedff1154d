#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/tuning/breakpoints.h>

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// Time to kill over distance, with the first values behind the present ones.
namespace avrek::playground {

/// The ideal kill at one distance.
struct KillPoint {
    Metres distance = 0.0;
    std::int32_t shots = 0;          ///< 0: no kill
    std::optional<Duration> ideal{}; ///< every shot hits; none: no kill
    std::optional<Duration> usual{}; ///< half of a profile's fights are over; none: fewer are
};

/// Curves of a weapon, for one set of values.
struct KillCurve {
    std::vector<KillPoint> points{};
    std::vector<ShotsStretch> stretches{}; ///< distances with the same number of shots, to 60 m
    std::optional<double> fewer_from{};    ///< damage for one shot fewer at 20 m
    std::optional<double> more_below{};    ///< damage below which it takes one more there
};

/// A duel against another weapon of the arsenal, both in the hands of the profile.
struct KillDuel {
    std::string other{};
    Metres distance = 0.0;
    double first = 0.0; ///< share of duels won, trades by half, with the first values
    double now = 0.0;
};

/// The values and the weapon of curves.
struct KillQuestion {
    std::shared_ptr<const Arsenal> first{};
    std::shared_ptr<const Arsenal> now{};
    std::string weapon{};
    std::string body{};    ///< the target
    std::string shooter{}; ///< profile of the usual times
    friend bool operator==(const KillQuestion&, const KillQuestion&) = default;
};

/// The answer: curves for both sets of values.
struct KillAnswer {
    KillQuestion question{};
    KillCurve first{};
    KillCurve now{};
    std::vector<KillDuel> duels{}; ///< at 10 and 30 m; empty until they are computed
};

/// Returns the curves at 5, 10 ... 60 m. A weapon, body or shooter that does not exist has an empty one.
KillAnswer answer_of(const KillQuestion& question);

/// Adds the duels to an answer. Stops early, without them, once `is_old` says so.
void add_duels(KillAnswer& answer, const std::function<bool()>& is_old);

/// Returns what a change does, in words: shots to kill, times, duels. Empty if both sets of values are equal.
std::vector<std::string> words_of(const KillAnswer& answer);

/// Answers questions beside the game, in a thread of its own; the newest question counts.
class KillAnswers {
  public:
    KillAnswers();
    ~KillAnswers();
    KillAnswers(const KillAnswers&) = delete;
    KillAnswers& operator=(const KillAnswers&) = delete;

    /// Asks, unless the last question was the same.
    void ask(const KillQuestion& question);
    /// Returns the newest answer, or null before the first. Its curves come first, its duels later.
    std::shared_ptr<const KillAnswer> newest() const;
    /// Waits until the last question is answered.
    void wait() const;

  private:
    struct Worker;
    std::unique_ptr<Worker> worker_;
};

} // namespace avrek::playground
