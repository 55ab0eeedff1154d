#pragma once
#include "controls.h"
#include <avrek/net/client.h>
#include <avrek/skirmish/bots.h>

#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace avrek::playground {

/// News of a player's client with the true time at which it had them.
struct PlayerNews {
    Time at{};
    ClientEvents events{};
};

/// One player of a fight over a link: its client, its inputs, and what there is to draw for it.
class LinkedPlayer {
  public:
    /// Connects. Data and transport must outlive it.
    LinkedPlayer(const GameData& data, const ClientSettings& settings, Transport& transport, BodyId who);

    Controls controls{}; ///< inputs from the next tick on, unless a bot plays

    /// Lets a bot play, with these connections between the points of the level.
    void let_play(const Bots& bots, ShooterId shooter);
    /// Receives, and does the ticks that are due. Returns the news of each.
    std::vector<PlayerNews> run(Time now);
    /// Asks the server for a change of values.
    Outcome propose(const TuningStep& step) { return client_->propose(step); }
    void leave() { client_->leave(); } ///< tells the server that it goes
    /// Forgets what there was to draw.
    void clear() { events_.clear(); }
    /// Puts what there is to draw in order of time.
    void sort();

    bool is_playing() const; ///< it is let in
    BodyId who() const { return who_; }
    const Client& client() const { return *client_; }
    /// Returns the fight as it sees it. Precondition (asserted): is_playing().
    const Skirmish& fight() const { return client_->view(); }
    /// Returns the time that a picture shows. Precondition (asserted): is_playing().
    Time shown(Time now) const;
    std::span<const Event> events() const { return events_; } ///< to draw, in its own time
    std::uint64_t withdrawn() const { return withdrawn_; }    ///< own events that the server had not

  private:
    void take(const ClientEvents& news);
    void take_notice(const Notice& notice);
    void take_shots(const SeenShots& shots);

    BodyId who_;
    std::unique_ptr<Client> client_;
    std::optional<Bots> bots_{};
    std::vector<Event> events_{};
    std::uint64_t withdrawn_ = 0;
};

} // namespace avrek::playground
