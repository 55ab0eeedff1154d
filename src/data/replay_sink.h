#pragma once
#include "open_file.h"

#include <atomic>
#include <cstddef>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

/// The file of a replay that is written.
namespace avrek::detail {

/// Packs the parts of a replay and writes them, in order. One thread at a time writes; any can ask for the
/// fault.
class ReplaySink {
  public:
    /// Opens a file.
    explicit ReplaySink(const std::string& file);

    /// Writes the head of the file.
    void write_start();
    /// Packs and writes a record.
    void write_part(std::span<const std::uint8_t> record);
    /// Writes the end mark, and closes the file.
    void end();
    /// Returns the first fault, as errno; 0: none. After it nothing is written.
    int fault() const { return fault_; }

  private:
    void write(const void* bytes, std::size_t size);
    void fail(int fault);

    OpenFile file_{};
    std::atomic<int> fault_ = 0;
    std::vector<char> packed_{};
};

} // namespace avrek::detail
