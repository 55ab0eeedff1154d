#pragma once
#include "../skirmish/kept_fight.h"
#include "replay_generated.h"

#include <cstdint>
#include <vector>

/// Chunks of a replay that are being put together.
namespace avrek::detail {

/// Offsets of one tick in the builder of its chunk; 0: nothing.
struct ReplayTickOffsets {
    template <class Element>
    using List = flatbuffers::Offset<flatbuffers::Vector<Element>>;

    List<std::uint32_t> leavers{};
    List<flatbuffers::Offset<record::EntrantRecord>> entrants{};
    List<std::uint8_t> order{};
    List<const record::IntentRecord*> intents{};
    List<flatbuffers::Offset<record::BodyUpdateRecord>> body_updates{};
    List<flatbuffers::Offset<record::ActionRecord>> actions{};
    List<std::uint8_t> companion{};
    List<flatbuffers::Offset<record::TuningRecord>> tuning{};
    bool is_hashed = false;
};

/// A part of a replay that is being put together. The thread that ticks adds ticks; hashes, names and the
/// end come beside it, one after another.
class ReplayChunk {
  public:
    // In the thread that ticks.
    flatbuffers::FlatBufferBuilder builder{1U << 16U};
    std::vector<ReplayTickOffsets> ticks{};
    /// Returns how large it is about to be, in bytes.
    std::size_t size() const { return builder.GetSize() + hashed_; }
    /// Counts the hashes of a fight, which come later.
    void expect_hashes(const KeptFight& fight);

    // Beside it.
    /// Adds the hashes of the next tick that has some.
    void add_hashes(const KeptFight& fight);
    /// Adds the fields after the last tick.
    void add_fields(const KeptFight& fight);
    /// Puts the chunk together. `first` is its first tick.
    flatbuffers::Offset<record::Chunk> finish(std::int64_t first);
    /// Empties it, but for its memory.
    void clear();

  private:
    struct Hashes {
        std::uint64_t whole = 0;
        std::vector<std::uint16_t> parts{};
    };
    std::size_t hashed_ = 0;
    std::vector<Hashes> hashes_{};
    std::vector<std::uint32_t> names_{};
    std::vector<std::uint64_t> values_{};
};

} // namespace avrek::detail
