#pragma once
#include <chrono>
#include <functional>
#include <memory>

/// Slow work beside the tick.
namespace avrek::detail {

/// Does jobs in their order in a thread of its own, which the first job starts.
class Background {
  public:
    static constexpr std::size_t max_jobs = 64;
    using Patience = std::chrono::seconds;

    Background();
    /// Does the jobs that are left.
    ~Background();
    Background(const Background&) = delete;
    Background& operator=(const Background&) = delete;

    /// Adds a job, which must not throw. Waits while `max_jobs` are waiting. Returns false if none of them
    /// was done for as long as the patience lasts: the job is not added.
    bool add(std::function<void()> job, Patience patience = Patience::max());
    /// Waits until all jobs are done. Returns false if none was done for as long as the patience lasts.
    bool finish(Patience patience = Patience::max());
    /// Drops the jobs that wait, and lets the one under way alone: what it uses must be its own.
    void abandon();

  private:
    struct Worker;
    std::shared_ptr<Worker> worker_;
};

} // namespace avrek::detail
