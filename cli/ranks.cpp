#include "ranks.h"

#include "command_line.h"

#ifdef AVREK_MPI
#include <mpi.h>
#endif

#include <cstdint>
#include <cstdlib>

namespace avrek::cli {

#ifdef AVREK_MPI

namespace {

constexpr int row_tag = 1;
constexpr int done_tag = 2;

} // namespace

// Only where mpirun has started it: alone the tool needs nothing of it.
struct Ranks::Joined {
    bool joined = false;
    int rank = 0;
    int size = 1;
    int here = 1;
    int left = 0; // others that are not done yet
    std::size_t dealt = 0;
    // A counter that lies with rank 0.
    MPI_Win window = MPI_WIN_NULL;
    std::int64_t* counter = nullptr;

    Joined() {
        if (std::getenv("OMPI_COMM_WORLD_SIZE") == nullptr) {
            return;
        }
        joined = true;
        int provided = 0;
        // Calls come from several threads, but never from two at once.
        MPI_Init_thread(nullptr, nullptr, MPI_THREAD_SERIALIZED, &provided);
        MPI_Comm_rank(MPI_COMM_WORLD, &rank);
        MPI_Comm_size(MPI_COMM_WORLD, &size);
        MPI_Comm machine = MPI_COMM_NULL;
        MPI_Comm_split_type(MPI_COMM_WORLD, MPI_COMM_TYPE_SHARED, 0, MPI_INFO_NULL, &machine);
        MPI_Comm_size(machine, &here);
        MPI_Comm_free(&machine);
        left = size - 1;
        MPI_Win_allocate(rank == 0 ? sizeof *counter : 0, sizeof *counter, MPI_INFO_NULL, MPI_COMM_WORLD,
                         &counter, &window);
        if (rank == 0) {
            MPI_Win_lock(MPI_LOCK_EXCLUSIVE, 0, 0, window);
            *counter = 0;
            MPI_Win_unlock(0, window);
        }
        MPI_Barrier(MPI_COMM_WORLD);
    }
    ~Joined() {
        if (joined) {
            MPI_Win_free(&window);
            MPI_Finalize();
        }
    }

    // Takes one message; its sender is done when it says so.
    void take(MPI_Status& status, const Store& store) {
        int count = 0;
        MPI_Get_count(&status, MPI_DOUBLE, &count);
        std::vector<double> row(static_cast<std::size_t>(count));
        MPI_Recv(row.data(), count, MPI_DOUBLE, status.MPI_SOURCE, status.MPI_TAG, MPI_COMM_WORLD, &status);
        if (status.MPI_TAG == done_tag) {
            --left;
            return;
        }
        const auto point = static_cast<std::size_t>(row.back());
        row.pop_back();
        store(point, row);
    }
};

void Ranks::agree(bool goes_on) {
    if (!joined_->joined) {
        return;
    }
    int goes = goes_on ? 1 : 0;
    MPI_Bcast(&goes, 1, MPI_INT, 0, MPI_COMM_WORLD);
    if (goes == 0 && rank() != 0) {
        throw WrongCall{};
    }
}

std::vector<std::size_t> Ranks::share(const std::function<std::vector<std::size_t>()>& points) {
    std::vector<std::size_t> all = rank() == 0 ? points() : std::vector<std::size_t>{};
    if (!joined_->joined) {
        return all;
    }
    unsigned long long count = all.size();
    MPI_Bcast(&count, 1, MPI_UNSIGNED_LONG_LONG, 0, MPI_COMM_WORLD);
    std::vector<unsigned long long> sent(all.begin(), all.end());
    sent.resize(count);
    MPI_Bcast(sent.data(), static_cast<int>(count), MPI_UNSIGNED_LONG_LONG, 0, MPI_COMM_WORLD);
    return {sent.begin(), sent.end()};
}

std::size_t Ranks::next() {
    if (!joined_->joined) {
        return joined_->dealt++;
    }
    const std::int64_t one = 1;
    std::int64_t before = 0;
    MPI_Win_lock(MPI_LOCK_SHARED, 0, 0, joined_->window);
    MPI_Fetch_and_op(&one, &before, MPI_INT64_T, 0, 0, MPI_SUM, joined_->window);
    MPI_Win_unlock(0, joined_->window);
    return static_cast<std::size_t>(before);
}

void Ranks::send(std::size_t point, const std::vector<double>& row) {
    std::vector<double> message = row;
    message.push_back(static_cast<double>(point));
    MPI_Send(message.data(), static_cast<int>(message.size()), MPI_DOUBLE, 0, row_tag, MPI_COMM_WORLD);
}

void Ranks::receive(const Store& store) {
    while (joined_->left > 0) {
        int there = 0;
        MPI_Status status;
        MPI_Iprobe(MPI_ANY_SOURCE, MPI_ANY_TAG, MPI_COMM_WORLD, &there, &status);
        if (there == 0) {
            return;
        }
        joined_->take(status, store);
    }
}

void Ranks::gather(const Store& store) {
    if (!joined_->joined) {
        return;
    }
    if (rank() != 0) {
        MPI_Send(nullptr, 0, MPI_DOUBLE, 0, done_tag, MPI_COMM_WORLD);
        return;
    }
    while (joined_->left > 0) {
        MPI_Status status;
        MPI_Probe(MPI_ANY_SOURCE, MPI_ANY_TAG, MPI_COMM_WORLD, &status);
        joined_->take(status, store);
    }
}

#else

struct Ranks::Joined {
    int rank = 0;
    int size = 1;
    int here = 1;
    std::size_t dealt = 0;
};

void Ranks::agree(bool) {}

std::vector<std::size_t> Ranks::share(const std::function<std::vector<std::size_t>()>& points) {
    return points();
}

std::size_t Ranks::next() {
    return joined_->dealt++;
}

void Ranks::send(std::size_t, const std::vector<double>&) {}

void Ranks::receive(const Store&) {}

void Ranks::gather(const Store&) {}

#endif

Ranks::Ranks() : joined_(std::make_unique<Joined>()) {}

Ranks::~Ranks() = default;

int Ranks::rank() const {
    return joined_->rank;
}

int Ranks::size() const {
    return joined_->size;
}

std::size_t Ranks::on_this_machine() const {
    return static_cast<std::size_t>(joined_->here);
}

} // namespace avrek::cli
