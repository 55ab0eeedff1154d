#include "background.h"

#include <condition_variable>
#include <csignal>
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
    std::uint64_t done = 0; // jobs
    bool is_busy = false;
    bool ends = false;
    std::thread thread{};

    // Waits as long as jobs get done.
    template <class Condition>
    bool wait(std::unique_lock<std::mutex>& lock, Patience patience, Condition condition) {
        if (patience == Patience::max()) {
            changed.wait(lock, condition);
            return true;
        }
        while (!condition()) {
            const std::uint64_t before = done;
            if (!changed.wait_for(lock, patience, [&] { return condition() || done != before; })) {
                return false;
            }
        }
        return true;
    }
    void run() {
        sigset_t all; // signals are for the threads that wait for them
        sigfillset(&all);
        pthread_sigmask(SIG_BLOCK, &all, nullptr);
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
            ++done;
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

bool Background::add(std::function<void()> job, Patience patience) {
    if (!worker_) {
        auto worker = std::make_shared<Worker>();
        try {
            worker->thread = std::thread{[worker] { worker->run(); }};
        } catch (const std::system_error&) { // no more threads here: it is done at once
            job();
            return true;
        }
        worker_ = std::move(worker);
    }
    std::unique_lock lock{worker_->mutex};
    if (!worker_->wait(lock, patience, [this] { return worker_->jobs.size() < max_jobs; })) {
        return false;
    }
    worker_->jobs.push_back(std::move(job));
    lock.unlock(); // who wakes need not wait for it
    worker_->changed.notify_all();
    return true;
}

bool Background::finish(Patience patience) {
    if (!worker_) {
        return true;
    }
    std::unique_lock lock{worker_->mutex};
    return worker_->wait(lock, patience, [this] { return worker_->jobs.empty() && !worker_->is_busy; });
}

void Background::abandon() {
    if (worker_) {
        {
            const std::lock_guard lock{worker_->mutex};
            worker_->jobs.clear();
            worker_->ends = true;
        }
        worker_->changed.notify_all();
        worker_->thread.detach();
        worker_.reset();
    }
}

} // namespace avrek::detail
