#pragma once
#include <avrek/core/diagnostics.h>

#include <cstddef>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// The results of a sweep: point by point in a file beside it while it runs, so that nothing is lost when it
/// is killed, and sorted when all points are there.
namespace avrek {

/// Identity and columns of a sweep.
struct SweepHead {
    std::string identity{};             ///< equal for equal sweeps of equal arsenals; one line
    std::vector<std::string> columns{}; ///< columns of a row, without the number of the point
    std::size_t points = 0;
};

/// The results of one sweep. The finished file is SQLite if its name ends in .db, with the tables "sweep" and
/// "about", else CSV; nan is empty. Until then FILE.part holds the results.
class SweepFile {
  public:
    SweepFile();
    ~SweepFile();
    SweepFile(SweepFile&&) noexcept;
    SweepFile& operator=(SweepFile&&) noexcept;

    /// Opens the results, or resumes those of an earlier run. Returns the faults: a file that cannot be
    /// written, that belongs to another sweep, or that another run is writing.
    std::vector<Diagnostic> open(const std::string& file, const SweepHead& head);

    std::size_t done() const; ///< number of points that are there
    /// Returns whether a point is there.
    bool has(std::size_t point) const;
    /// Adds the row of a point; a second row of a point is ignored. Returns false if it cannot be written.
    bool add(std::size_t point, std::span<const double> row);
    /// Writes the finished file when all points are there, and removes the other one. Returns the faults.
    std::vector<Diagnostic> finish();

  private:
    struct Writing;
    std::unique_ptr<Writing> writing_;
};

} // namespace avrek
