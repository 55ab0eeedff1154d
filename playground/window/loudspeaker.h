#pragma once
#include <session/sounds.h>

#include <cstdint>
#include <span>
#include <vector>

namespace avrek::playground {

/// The audio device. Without one everything is silent.
class Loudspeaker {
  public:
    Loudspeaker() = default;
    Loudspeaker(const Loudspeaker&) = delete;
    Loudspeaker& operator=(const Loudspeaker&) = delete;
    ~Loudspeaker();

    /// Opens the device, unless it is to be quiet.
    void open(bool quiet);
    /// Silences it, or lets it be heard again.
    void toggle() { is_on_ = !is_on_; }
    /// Begins sounds, and hands the device what it needs until the next picture.
    void play(std::span<const Sound> sounds);

  private:
    std::uint32_t device_ = 0;
    bool is_on_ = true;
    Mixer mixer_{};
    std::vector<float> room_{};
};

} // namespace avrek::playground
