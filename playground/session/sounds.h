#pragma once
#include <avrek/skirmish/skirmish.h>

#include <array>
#include <cstdint>
#include <span>
#include <vector>

/// Sounds of a fight, made from its events without a recording.
namespace avrek::playground {

/// Samples per second of each ear.
inline constexpr int sample_rate = 44'100;

/// Kinds of sounds.
enum class SoundKind : std::uint8_t { shot, click, clack, hit, kill, hurt, blast, swing };

/// Number of kinds.
inline constexpr std::size_t sound_count = 8;

/// A sound as the player hears it.
struct Sound {
    SoundKind kind = SoundKind::shot;
    float left = 1.0F; ///< loudness in each ear, 0 to 1
    float right = 1.0F;
};

/// Returns the samples of a kind, from -1 to 1. They end in silence.
std::vector<float> samples_of(SoundKind kind);

/// Returns the sounds of a fight's events for a player: what is far is faint, what is on the left is louder
/// on the left.
std::vector<Sound> sounds_of(std::span<const Event> events, const Skirmish& fight, BodyId player);

/// Plays sounds over each other.
class Mixer {
  public:
    Mixer();
    /// Begins sounds; the oldest give way to more than 24.
    void add(std::span<const Sound> sounds);
    /// Writes what comes next, left and right in turn, each from -1 to 1.
    void mix(std::span<float> both_ears);

  private:
    struct Playing {
        Sound sound{};
        std::size_t at = 0;
    };
    std::array<std::vector<float>, sound_count> samples_{};
    std::vector<Playing> playing_{};
};

} // namespace avrek::playground
