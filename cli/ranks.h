#pragma once
#include <cstddef>
#include <functional>
#include <memory>
#include <vector>

/// The processes that share one sweep: those of mpirun, where the tool was built with AVREK_MPI, or one
/// alone.
namespace avrek::cli {

class Ranks {
  public:
    using Store = std::function<void(std::size_t point, const std::vector<double>& row)>;

    Ranks();
    ~Ranks();
    Ranks(const Ranks&) = delete;
    Ranks& operator=(const Ranks&) = delete;

    int rank() const; ///< from 0
    int size() const;
    /// How many of them share this machine's cores.
    std::size_t on_this_machine() const;
    /// Everybody learns whether rank 0 may go on; the others leave when it may not.
    void agree(bool goes_on);
    /// Rank 0 says which points are to be done; all get the list.
    std::vector<std::size_t> share(const std::function<std::vector<std::size_t>()>& points);
    /// Deals the places in that list, from 0 on, each once, to the first that asks: nobody waits while
    /// another has several left. By one thread at a time, as the calls below.
    std::size_t next();
    /// Not of rank 0: gives it a row.
    void send(std::size_t point, const std::vector<double>& row);
    /// Rank 0: takes the results that have arrived.
    void receive(const Store& store);
    /// The last call of all: rank 0 takes everything until the others are done.
    void gather(const Store& store);

  private:
    struct Joined;
    std::unique_ptr<Joined> joined_;
};

} // namespace avrek::cli
