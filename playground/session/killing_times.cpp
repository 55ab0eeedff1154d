#include "killing_times.h"

#include <avrek/tuning/engagement.h>
#include <avrek/tuning/kill_distribution.h>
#include <avrek/tuning/time_to_kill.h>

#include <condition_variable>
#include <mutex>
#include <thread>
#include <utility>

namespace avrek::playground {

namespace {

KillCurve curve_of(const Arsenal& arsenal, const KillQuestion& question) {
    KillCurve curve;
    for (Metres distance = 5.0; distance <= 60.0; distance += 5.0) {
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
            auto answer = std::make_shared<const KillAnswer>(answer_of(question));
            lock.lock();
            newest = std::move(answer);
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
