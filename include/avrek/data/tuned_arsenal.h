#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

#include <cstddef>
#include <memory>
#include <optional>
#include <span>
#include <vector>

/// An arsenal that changes while a fight goes by it.
namespace avrek {

/// One change of a running fight's arsenal: an overlay, or texts in place of all before.
struct TuningStep {
    std::vector<ArsenalText> texts{};
    bool replaces = false; ///< false: the texts overlay those that count
};

/// The texts of an arsenal, and the steps that they have been changed by.
///
///     TunedArsenal tuned{data.texts};
///     if (const auto arsenal = tuned.with(step); arsenal && fight.retune(*arsenal)) {
///         tuned.take(step);
///     }
class TunedArsenal {
  public:
    /// Begins with the texts of an arsenal; without any, the arsenal was made in code and takes no overlay.
    explicit TunedArsenal(std::vector<ArsenalText> base = {});

    /// Returns the arsenal after one more step, or every fault of its texts; changes nothing.
    [[nodiscard]] Loaded<std::shared_ptr<const Arsenal>> with(const TuningStep& step) const;
    /// Takes a step in.
    void take(TuningStep step);

    /// Returns the texts that count now.
    std::span<const ArsenalText> texts() const { return texts_; }
    /// Returns the steps so far, in order.
    std::span<const TuningStep> steps() const { return steps_; }

  private:
    std::vector<ArsenalText> texts_;
    std::vector<TuningStep> steps_{};
};

/// Maximum size of the texts of a step together, in bytes.
inline constexpr std::size_t max_tuning_bytes = std::size_t{4} << 20U;

/// Packs a step into bytes. Returns none if its texts are larger than max_tuning_bytes.
std::vector<std::byte> pack(const TuningStep& step);
/// Unpacks bytes of pack(); none for any others.
std::optional<TuningStep> unpack_tuning(std::span<const std::byte> bytes);

} // namespace avrek
