#include "sounds.h"

#include <algorithm>
#include <cmath>

namespace avrek::playground {

namespace {

constexpr std::size_t max_playing = 24;
constexpr Metres loud_within = 4.0; // beyond it, loudness falls with the distance
constexpr float least_heard = 0.01F;

// A tone that falls, under noise, both dying away.
struct Recipe {
    double seconds = 0.1;
    double tone = 200.0;   // hertz at the start
    double falls = 0.5;    // share of the tone at the end
    double noise = 0.5;    // share of noise
    double softness = 0.3; // 0 hisses, near 1 rumbles
    double dies = 8.0;     // how fast it fades
    double loudness = 0.8;
};

constexpr std::array<Recipe, sound_count> recipes{{
    {0.16, 190.0, 0.35, 0.85, 0.45, 7.0, 0.8}, // shot
    {0.04, 1400.0, 0.9, 0.4, 0.0, 9.0, 0.35},  // click
    {0.09, 520.0, 0.7, 0.6, 0.2, 8.0, 0.45},   // clack
    {0.06, 900.0, 0.8, 0.25, 0.1, 7.0, 0.5},   // hit
    {0.28, 660.0, 1.5, 0.05, 0.1, 4.0, 0.5},   // kill
    {0.20, 110.0, 0.6, 0.35, 0.7, 6.0, 0.7},   // hurt
    {0.60, 70.0, 0.4, 0.8, 0.85, 5.0, 0.9},    // blast
    {0.18, 320.0, 1.4, 0.9, 0.5, 5.0, 0.35},   // swing
}};

struct Listening {
    const Skirmish& fight;
    BodyId player;
    Vector3 ear;
    Vector3 to_left;
    std::vector<Sound>& sounds;

    void add(SoundKind kind, const Vector3& from) const {
        const Vector3 way = from - ear;
        const double distance = std::sqrt(way.squaredNorm());
        const double loudness = loud_within / std::max(loud_within, distance);
        const double side = distance > 0.3 ? way.dot(to_left) / distance : 0.0; // 1: left
        Sound sound{kind, static_cast<float>(loudness * std::min(1.0, 1.0 + 0.8 * side)),
                    static_cast<float>(loudness * std::min(1.0, 1.0 - 0.8 * side))};
        if (std::max(sound.left, sound.right) >= least_heard) {
            sounds.push_back(sound);
        }
    }
    void add_own(SoundKind kind) const { sounds.push_back({kind, 1.0F, 1.0F}); }
    Vector3 place_of(BodyId who) const {
        const Fighter* fighter = fight.find(who);
        return fighter != nullptr ? Vector3{fighter->motion.position + world_up()} : ear;
    }

    void operator()(const ShotEvent& shot) const { add(SoundKind::shot, shot.muzzle); }
    void operator()(const BlastEvent& blast) const { add(SoundKind::blast, blast.centre); }
    void operator()(const SwingEvent& swing) const { add(SoundKind::swing, place_of(swing.who)); }
    void operator()(const HandlingEvent& hands) const {
        const WeaponEventKind kind = hands.event.kind;
        if (kind == WeaponEventKind::dry_fire) {
            add(SoundKind::click, place_of(hands.who));
        } else if (kind == WeaponEventKind::reload_started || kind == WeaponEventKind::rounds_loaded ||
                   kind == WeaponEventKind::reload_finished || kind == WeaponEventKind::raised) {
            add(SoundKind::clack, place_of(hands.who));
        }
    }
    void operator()(const DamageEvent& hurt) const {
        if (hurt.who == player) {
            add_own(SoundKind::hurt);
        } else if (hurt.source == player) {
            add_own(SoundKind::hit);
        }
    }
    void operator()(const KillEvent& kill) const {
        if (kill.by == player && kill.who != player) {
            add_own(SoundKind::kill);
        }
    }
    template <class Other>
    void operator()(const Other&) const {}
};

} // namespace

std::vector<float> samples_of(SoundKind kind) {
    const Recipe& recipe = recipes[static_cast<std::size_t>(kind)];
    std::vector<float> samples(static_cast<std::size_t>(recipe.seconds * sample_rate));
    std::uint32_t seed = 0x9E3779B9U + static_cast<std::uint32_t>(kind);
    double turn = 0.0;
    double noise = 0.0;
    for (std::size_t index = 0; index < samples.size(); ++index) {
        const double share = static_cast<double>(index) / static_cast<double>(samples.size());
        seed = seed * 1664525U + 1013904223U;
        const double white = static_cast<double>(seed >> 8U) / 8'388'608.0 - 1.0;
        noise = recipe.softness * noise + (1.0 - recipe.softness) * white;
        turn += recipe.tone * (1.0 + (recipe.falls - 1.0) * share) / sample_rate;
        const double tone = std::sin(2.0 * pi * turn);
        const double fades = std::exp(-recipe.dies * share) * (1.0 - share);
        const double begins = std::min(1.0, static_cast<double>(index) / 40.0); // no crack at the start
        samples[index] = static_cast<float>(recipe.loudness * fades * begins *
                                            (recipe.noise * noise + (1.0 - recipe.noise) * tone));
    }
    return samples;
}

std::vector<Sound> sounds_of(std::span<const Event> events, const Skirmish& fight, BodyId player) {
    std::vector<Sound> sounds;
    const CombatantReadout readout = fight.readout(player);
    const Listening listening{fight, player, readout.eye, turned_to(readout.view) * world_left(), sounds};
    for (const Event& event : events) {
        std::visit(listening, event);
    }
    return sounds;
}

Mixer::Mixer() {
    for (std::size_t kind = 0; kind < sound_count; ++kind) {
        samples_[kind] = samples_of(static_cast<SoundKind>(kind));
    }
}

void Mixer::add(std::span<const Sound> sounds) {
    for (const Sound& sound : sounds) {
        playing_.push_back({sound, 0});
    }
    if (playing_.size() > max_playing) {
        playing_.erase(playing_.begin(), playing_.end() - static_cast<std::ptrdiff_t>(max_playing));
    }
}

void Mixer::mix(std::span<float> both_ears) {
    std::fill(both_ears.begin(), both_ears.end(), 0.0F);
    for (Playing& one : playing_) {
        const std::vector<float>& samples = samples_[static_cast<std::size_t>(one.sound.kind)];
        for (std::size_t index = 0; index + 1 < both_ears.size() && one.at < samples.size(); index += 2) {
            both_ears[index] += one.sound.left * samples[one.at];
            both_ears[index + 1] += one.sound.right * samples[one.at];
            ++one.at;
        }
    }
    for (float& sample : both_ears) {
        sample = std::tanh(sample); // many at once do not crackle
    }
    std::erase_if(playing_, [this](const Playing& one) {
        return one.at >= samples_[static_cast<std::size_t>(one.sound.kind)].size();
    });
}

} // namespace avrek::playground
