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

// Where the number of shots differs: from one change of either to the next.
void say_stretches(const KillAnswer& answer, std::vector<std::string>& words) {
    std::vector<Metres> ends{longest};
    for (const KillCurve* curve : {&answer.first, &answer.now}) {
        for (const ShotsStretch& stretch : curve->stretches) {
            ends.push_back(stretch.to);
        }
    }
    std::sort(ends.begin(), ends.end());
    Metres from = 0.0;
    for (const Metres end : ends) {
        const Metres middle = 0.5 * (from + end);
        const std::int32_t was = shots_at(answer.first, middle);
        const std::int32_t is = shots_at(answer.now, middle);
        if (end - from > 0.005 && was != is) {
            words.push_back(text_of("%.1f to %.1f m: ", from, end) + shots_text(is) + " instead of " +
                            std::to_string(was));
        }
        from = end;
    }
}

void say_times(const KillAnswer& answer, std::vector<std::string>& words) {
    for (const auto& [which, what] :
         {std::pair{&KillPoint::ideal, "when all hit"}, {&KillPoint::usual, "in half of the fights"}}) {
        for (std::size_t index = 1; index < answer.now.points.size(); index += 4) { // 10, 30, 50 m
            const auto& is = answer.now.points[index].*which;
            const auto was =
                index < answer.first.points.size() ? answer.first.points[index].*which : std::nullopt;
            if (is && was && *is != *was) {
                words.push_back(
                    text_of("at %.0f m ", answer.now.points[index].distance) +
                    text_of("%.0f ms instead of %.0f ", to_milliseconds(*is), to_milliseconds(*was)) + what);
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
        words.push_back(text_of("wins %.0f %% instead of %.0f ", 100.0 * one->now, 100.0 * one->first) +
                        text_of("at %.0f m against ", one->distance) + one->other);
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
