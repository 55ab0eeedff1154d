#pragma once
#include <functional>
#include <memory>

/// Slow work beside the tick.
namespace avrek::detail {

/// Does jobs in their order in a thread of its own, which the first job starts.
class Background {
  public:
    static constexpr std::size_t max_jobs = 64;

    Background();
    /// Does the jobs that are left.
    ~Background();
    Background(const Background&) = delete;
    Background& operator=(const Background&) = delete;

    /// Adds a job, which must not throw. Waits while `max_jobs` are waiting.
    void add(std::function<void()> job);
    /// Waits until all jobs are done.
    void finish();

  private:
    struct Worker;
    std::unique_ptr<Worker> worker_;
};

} // namespace avrek::detail
