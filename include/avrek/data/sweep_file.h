#pragma once
#include <avrek/core/diagnostics.h>

#include <cstddef>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// The results of a sweep on the disk: point by point in a file beside it while it runs, so that nothing is
/// lost when it is killed, and whole, in order, when all is there.
namespace avrek {

/// What a sweep is, and what its results are called.
struct SweepHead {
    std::string identity{};             ///< equal for equal sweeps of equal arsenals; one line
    std::vector<std::string> columns{}; ///< of a row, without the number of the point
    std::size_t points = 0;
};

/// One sweep's results. The finished file is SQLite if its name ends in .db, with the tables `sweep` and
/// `about`, and CSV otherwise; numbers that are nan are empty. Until then FILE.part holds what is done.
class SweepFile {
  public:
    SweepFile();
    ~SweepFile();
    SweepFile(SweepFile&&) noexcept;
    SweepFile& operator=(SweepFile&&) noexcept;

    /// Begins, or goes on where an earlier run ended. Returns what is wrong: a file that cannot be written,
    /// or one that is of another sweep. One that another run writes to at the moment is refused too.
    std::vector<Diagnostic> open(const std::string& file, const SweepHead& head);

    std::size_t done() const; ///< points that are there
    bool has(std::size_t point) const;
    /// Adds the row of a point; twice the same is once. Returns false when it cannot be written.
    bool add(std::size_t point, std::span<const double> row);
    /// Writes the finished file, when all points are there, and removes the other one. Returns what is wrong.
    std::vector<Diagnostic> finish();

  private:
    struct Writing;
    std::unique_ptr<Writing> writing_;
};

} // namespace avrek
