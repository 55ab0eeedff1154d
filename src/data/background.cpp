#include "background.h"

#include <condition_variable>
#include <deque>
#include <mutex>
#include <system_error>
#include <thread>
#include <utility>

namespace avrek::detail {

struct Background::Worker {
    std::mutex mutex{};
    std::condition_variable changed{};
    std::deque<std::function<void()>> jobs{};
    bool is_busy = false;
    bool ends = false;
    std::thread thread{};

    void run() {
        std::unique_lock lock{mutex};
        for (;;) {
            changed.wait(lock, [this] { return !jobs.empty() || ends; });
            if (jobs.empty()) {
                return;
            }
            std::function<void()> job = std::move(jobs.front());
            jobs.pop_front();
            is_busy = true;
            lock.unlock();
            job();
            job = {}; // what it holds goes before anybody is told
            lock.lock();
            is_busy = false;
            changed.notify_all();
        }
    }
};

Background::Background() = default;

Background::~Background() {
    if (worker_) {
        {
            const std::lock_guard lock{worker_->mutex};
            worker_->ends = true;
        }
        worker_->changed.notify_all();
        worker_->thread.join();
    }
}

void Background::add(std::function<void()> job) {
    if (!worker_) {
        auto worker = std::make_unique<Worker>();
        try {
            worker->thread = std::thread{[one = worker.get()] { one->run(); }};
        } catch (const std::system_error&) { // no more threads here: it is done at once
            job();
            return;
        }
        worker_ = std::move(worker);
    }
    std::unique_lock lock{worker_->mutex};
    worker_->changed.wait(lock, [this] { return worker_->jobs.size() < max_jobs; });
    worker_->jobs.push_back(std::move(job));
    worker_->changed.notify_all();
}

void Background::finish() {
    if (worker_) {
        std::unique_lock lock{worker_->mutex};
        worker_->changed.wait(lock, [this] { return worker_->jobs.empty() && !worker_->is_busy; });
    }
}

} // namespace avrek::detail
