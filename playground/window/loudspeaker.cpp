#include "loudspeaker.h"

#include <SDL.h>

namespace avrek::playground {

namespace {

constexpr std::uint32_t ahead = sample_rate / 12; // samples of each ear that wait for the device
constexpr std::uint32_t sample_bytes = 2 * sizeof(float);

} // namespace

Loudspeaker::~Loudspeaker() {
    if (device_ != 0) {
        SDL_CloseAudioDevice(device_);
    }
}

void Loudspeaker::open(bool quiet) {
    if (quiet || SDL_InitSubSystem(SDL_INIT_AUDIO) != 0) {
        return;
    }
    SDL_AudioSpec wanted{};
    wanted.freq = sample_rate;
    wanted.format = AUDIO_F32SYS;
    wanted.channels = 2;
    wanted.samples = 512;
    device_ = SDL_OpenAudioDevice(nullptr, 0, &wanted, nullptr, 0);
    if (device_ != 0) {
        SDL_PauseAudioDevice(device_, 0);
    }
}

void Loudspeaker::play(std::span<const Sound> sounds) {
    if (device_ == 0) {
        return;
    }
    if (is_on_) {
        mixer_.add(sounds);
    }
    const std::uint32_t waiting = SDL_GetQueuedAudioSize(device_) / sample_bytes;
    if (waiting < ahead) {
        room_.resize(2 * static_cast<std::size_t>(ahead - waiting));
        mixer_.mix(room_);
        SDL_QueueAudio(device_, room_.data(), static_cast<std::uint32_t>(room_.size() * sizeof(float)));
    }
}

} // namespace avrek::playground
