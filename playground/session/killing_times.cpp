#include "killing_times.h"

#include <avrek/tuning/duel.h>
#include <avrek/tuning/engagement.h>
#include <avrek/tuning/kill_distribution.h>
#include <avrek/tuning/time_to_kill.h>

#include <algorithm>
#include <cmath>
#include <condition_variable>
#include <cstdio>
#include <mutex>
#include <thread>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Metres longest = 60.0;
constexpr Metres duel_distances[] = {10.0, 30.0};
constexpr std::size_t duel_points = 64;

void add_breakpoints(KillCurve& curve, const Engagement& engagement, const ProjectileSpec* projectile) {
    const WeaponSpec& weapon = *engagement.weapon;
    for (ShotsStretch stretch : shots_over_distance(weapon, engagement.target, engagement.aim, projectile)) {
        if (stretch.from < longest) {
            stretch.to = std::min(stretch.to, longest);
            curve.stretches.push_back(stretch);
        }
    }
    const DamageBreakpoints at =
        damage_breakpoints(weapon, engagement.target, 20.0, engagement.aim, projectile);
    curve.fewer_from = at.fewer_from;
    curve.more_below = at.more_below;
}

KillCurve curve_of(const Arsenal& arsenal, const KillQuestion& question) {
    KillCurve curve;
    for (Metres distance = 5.0; distance <= longest; distance += 5.0) {
        const auto engagement =
            engagement_of(arsenal, question.weapon, question.shooter, question.body, distance);
        if (!engagement || engagement->weapon == nullptr) {
            return {};
        }
        const WeaponSpec& weapon = *engagement->weapon;
        const IdealKill ideal = ideal_time_to_kill(weapon, engagement->target, distance, engagement->aim,
                                                   find(arsenal.projectiles, weapon.projectile.id));
        KillPoint point{distance, ideal.shots, std::nullopt, std::nullopt};
        if (ideal.verdict == KillVerdict::kills) {
            point.ideal = ideal.time;
            point.usual = time_of_share(kill_distribution(*engagement, {.points = 64}), 0.5);
        }
        curve.points.push_back(point);
        if (curve.points.size() == 1) {
            add_breakpoints(curve, *engagement, find(arsenal.projectiles, weapon.projectile.id));
        }
    }
    return curve;
}

} // namespace

KillAnswer answer_of(const KillQuestion& question) {
    KillAnswer answer{question, curve_of(*question.now, question), {}};
    std::swap(answer.first, answer.now);
    answer.first = question.first == question.now ? answer.now : curve_of(*question.first, question);
    return answer;
}

void add_duels(KillAnswer& answer, const std::function<bool()>& is_old) {
    const KillQuestion& question = answer.question;
    const bool is_same = question.first == question.now;
    const auto kills_of = [&](const Arsenal& arsenal, const std::string& weapon, Metres distance) {
        const auto engagement = engagement_of(arsenal, weapon, question.shooter, question.body, distance);
        return engagement ? kill_distribution(*engagement, {.points = duel_points}) : KillDistribution{};
    };
    std::vector<KillDuel> duels;
    for (const Metres distance : duel_distances) {
        const auto rate_in = [&](const Arsenal& arsenal, const KillDistribution& own,
                                 const std::string& other) {
            const KillDistribution its = kills_of(arsenal, other, distance);
            return duel({&own}, {&its}).win_rate(0);
        };
        const KillDistribution first = kills_of(*question.first, question.weapon, distance);
        const KillDistribution now = is_same ? first : kills_of(*question.now, question.weapon, distance);
        for (const WeaponSpec& weapon : question.now->weapons) {
            if (is_old()) {
                return;
            }
            if (weapon.id != question.weapon && find(question.first->weapons, weapon.id) != nullptr) {
                const double before = rate_in(*question.first, first, weapon.id);
                const double after = is_same ? before : rate_in(*question.now, now, weapon.id);
                duels.push_back({weapon.id, distance, before, after});
            }
        }
    }
    answer.duels = std::move(duels);
}

namespace {

std::string text_of(const char* format, double one, double other = 0.0) {
    char text[96];
    std::snprintf(text, sizeof text, format, one, other);
    return text;
}

std::string shots_text(std::int32_t shots) {
    return shots == 0 ? "no kill" : std::to_string(shots) + (shots == 1 ? " shot" : " shots");
}

std::int32_t shots_at(const KillCurve& curve, Metres distance) {
    for (const ShotsStretch& stretch : curve.stretches) {
        if (distance >= stretch.from && distance < stretch.to) {
            return stretch.shots;
        }
    }
    return 0;
}

// Distances over which both sets of values have the same number of shots each, and they differ.
struct ChangedStretch {
    Metres from = 0.0;
    Metres to = 0.0;
    std::int32_t was = 0;
    std::int32_t is = 0;
};

std::vector<ChangedStretch> changed_stretches(const KillAnswer& answer) {
    std::vector<Metres> ends{longest};
    for (const KillCurve* curve : {&answer.first, &answer.now}) {
        for (const ShotsStretch& stretch : curve->stretches) {
            ends.push_back(stretch.to);
        }
    }
    std::sort(ends.begin(), ends.end());
    std::vector<ChangedStretch> changed;
    Metres from = 0.0;
    for (const Metres end : ends) {
        const Metres middle = 0.5 * (from + end);
        const ChangedStretch one{from, end, shots_at(answer.first, middle), shots_at(answer.now, middle)};
        if (end - from > 0.005 && one.was != one.is) {
            changed.push_back(one);
        }
        from = end;
    }
    return changed;
}

// Where the number of shots differs: each stretch, or from the first to the last where there are many.
void say_stretches(const KillAnswer& answer, std::vector<std::string>& words) {
    constexpr std::size_t many = 4;
    const std::vector<ChangedStretch> changed = changed_stretches(answer);
    if (changed.size() > many) {
        const ChangedStretch& first = changed.front();
        const ChangedStretch& last = changed.back();
        words.push_back(text_of("%.1f to %.1f m: from ", first.from, last.to) + shots_text(first.is) +
                        ", was " + std::to_string(first.was) + ",");
        words.push_back("  to " + shots_text(last.is) + ", was " + std::to_string(last.was));
        return;
    }
    for (const ChangedStretch& one : changed) {
        words.push_back(text_of("%.1f to %.1f m: ", one.from, one.to) + shots_text(one.is) + ", was " +
                        std::to_string(one.was));
    }
}

void say_times(const KillAnswer& answer, std::vector<std::string>& words) {
    for (const auto& [which, what] : {std::pair{&KillPoint::ideal, "all hit"}, {&KillPoint::usual, "half"}}) {
        for (std::size_t index = 1; index < answer.now.points.size(); index += 4) { // 10, 30, 50 m
            const auto& is = answer.now.points[index].*which;
            const auto was =
                index < answer.first.points.size() ? answer.first.points[index].*which : std::nullopt;
            if (is && was && *is != *was) {
                words.push_back(text_of("%.0f m, ", answer.now.points[index].distance) + what +
                                text_of(": %.0f ms, was %.0f", to_milliseconds(*is), to_milliseconds(*was)));
            }
        }
    }
}

} // namespace

std::vector<std::string> words_of(const KillAnswer& answer) {
    std::vector<std::string> words;
    if (answer.question.first == answer.question.now) {
        return words;
    }
    say_stretches(answer, words);
    say_times(answer, words);
    std::vector<const KillDuel*> duels;
    for (const KillDuel& one : answer.duels) {
        if (std::abs(one.now - one.first) >= 0.005) {
            duels.push_back(&one);
        }
    }
    std::stable_sort(duels.begin(), duels.end(), [](const KillDuel* one, const KillDuel* other) {
        return std::abs(one->now - one->first) > std::abs(other->now - other->first);
    });
    for (const KillDuel* one : duels) {
        words.push_back(text_of("%.0f m, ", one->distance) + one->other +
                        text_of(": wins %.0f %%, was %.0f", 100.0 * one->now, 100.0 * one->first));
    }
    if (words.empty()) {
        words.push_back("no time to kill changes");
    }
    return words;
}

struct KillAnswers::Worker {
    mutable std::mutex mutex{};
    mutable std::condition_variable changed{};
    KillQuestion asked{};
    bool is_asked = false;
    bool works = false;
    bool ends = false;
    std::shared_ptr<const KillAnswer> newest{};
    std::thread thread{};

    void run() {
        std::unique_lock lock{mutex};
        for (;;) {
            changed.wait(lock, [this] { return is_asked || ends; });
            if (ends) {
                return;
            }
            const KillQuestion question = asked;
            is_asked = false;
            works = true;
            lock.unlock();
            KillAnswer answer = answer_of(question);
            auto curves = std::make_shared<const KillAnswer>(answer);
            lock.lock();
            newest = std::move(curves);
            lock.unlock();
            add_duels(answer, [this] {
                const std::lock_guard look{mutex};
                return is_asked || ends;
            });
            auto whole = std::make_shared<const KillAnswer>(std::move(answer));
            lock.lock();
            newest = std::move(whole);
            works = false;
            changed.notify_all();
        }
    }
};

KillAnswers::KillAnswers() : worker_(std::make_unique<Worker>()) {
    worker_->thread = std::thread{[this] { worker_->run(); }};
}

KillAnswers::~KillAnswers() {
    {
        const std::lock_guard lock{worker_->mutex};
        worker_->ends = true;
    }
    worker_->changed.notify_all();
    worker_->thread.join();
}

void KillAnswers::ask(const KillQuestion& question) {
    const std::lock_guard lock{worker_->mutex};
    if (worker_->asked == question) {
        return;
    }
    worker_->asked = question;
    worker_->is_asked = true;
    worker_->changed.notify_all();
}

std::shared_ptr<const KillAnswer> KillAnswers::newest() const {
    const std::lock_guard lock{worker_->mutex};
    return worker_->newest;
}

void KillAnswers::wait() const {
    std::unique_lock lock{worker_->mutex};
    worker_->changed.wait(lock, [this] { return !worker_->is_asked && !worker_->works; });
}

} // namespace avrek::playground
