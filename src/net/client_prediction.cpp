#include "client_impl.h"
#include "packed_intents.h"
#include <avrek/core/state_hash.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

/// Prediction and correction of a client's own combatant.
namespace avrek {

namespace {

constexpr Duration draws_in = std::chrono::milliseconds{50}; // half of a correction
constexpr Metres draws_at_most = 3.0;                        // farther it is drawn there at once

// The same for every prediction of one event.
std::uint64_t id_of(const OwnEvent& own) {
    StateHash hash;
    hash.add(std::uint64_t{own.event.index()});
    hash.add(own.at);
    std::visit(EventHandlers{[&](const ShotEvent& shot) { hash.add(std::uint64_t{shot.shot}); },
                             [&](const HandlingEvent& hands) {
                                 hash.add(static_cast<std::uint64_t>(hands.event.kind) << 8U |
                                          static_cast<std::uint8_t>(hands.event.slot));
                             },
                             [&](const SwingEvent& swing) {
                                 hash.add(static_cast<std::uint64_t>(swing.event.kind) << 32U |
                                          swing.event.swing);
                             },
                             [&](const ActionEvent& action) {
                                 hash.add(std::uint64_t{action.tag} << 8U | action.kind);
                                 hash.add(static_cast<std::uint64_t>(action.who));
                             }},
               own.event);
    return hash.value();
}

// Collects the combatant's actions in a tick.
void collect(std::span<const Event> events, Tick tick, BodyId you, std::vector<OwnEvent>& did) {
    const auto add = [&](Time at, const auto& event) {
        OwnEvent& own = did.emplace_back(OwnEvent{.tick = tick, .at = at, .event = event});
        own.id = id_of(own);
    };
    for (const Event& event : events) {
        std::visit(EventHandlers{[&](const ShotEvent& shot) { add(shot.at, shot); },
                                 [&](const HandlingEvent& hands) { add(hands.event.at, hands); },
                                 [&](const SwingEvent& swing) { add(swing.event.at, swing); },
                                 [&](const ActionEvent& action) {
                                     if (action.by == you) {
                                         add(action.at, action);
                                     }
                                 },
                                 [&](const SegmentEvent& segment) {
                                     for (OwnEvent& own : did) {
                                         const auto* shot = std::get_if<ShotEvent>(&own.event);
                                         if (shot != nullptr && own.tick == tick &&
                                             shot->shot == segment.shot) {
                                             own.segments.push_back(segment);
                                         }
                                     }
                                 },
                                 [](const auto&) {}},
                   event);
    }
}

} // namespace

// The moment of the server that is shown when its own clock says `own_time`.
Time Client::Impl::drawn_server_time(Time own_time) const {
    return newest >= 0 ? std::max(Time{}, own_time - view_delay) : Time{};
}

void Client::Impl::take_snapshot(std::span<const std::byte> body) {
    const auto message = detail::decode_snapshot(body);
    if (!message || state != ClientState::playing) {
        counts.not_understood += message ? 0 : 1;
        return;
    }
    if (message->tick <= newest) {
        ++counts.too_old;
        return;
    }
    Moment before;
    if (message->before >= 0) {
        const Moment& known = moments[index_of(message->before)];
        if (known.tick != message->before) {
            ++counts.not_understood;
            return;
        }
        before = known;
    }
    auto bodies = detail::unpack_bodies(message->bodies, before.bodies);
    detail::BitReader bits{message->own};
    detail::OwnState state_there = detail::read_change(bits, own_kinds, before.own);
    if (!bodies || !bits.is_at_end()) {
        ++counts.not_understood;
        return;
    }
    Moment& moment = moments[index_of(message->tick)];
    hear(*message);
    moment = {message->tick, {}, {}, std::move(state_there), {}, message->view_delay};
    moment.drawn = motions.drawn(*bodies, moment.tick / welcome.settings.snapshot_interval);
    moment.bodies = std::move(bodies->bodies);
    moment.game = detail::sent_fighter(moment.own).intent.game;
    ++counts.snapshots;
    own_clock.hear(message->early, message->tick, own->tick());
    view_delay = moment.view_delay;
    show(moment);
    newest = message->tick;
    show_tunings(newest);
    reconcile(moment);
}

// The noises of a snapshot. Each comes with the next one again, in case this one is lost.
void Client::Impl::hear(const detail::SnapshotMessage& message) {
    const Tick last = message.tick - welcome.settings.snapshot_interval;
    const bool has_last = last >= 0 && moments[index_of(last)].tick == last;
    for (const detail::ToldNoise& noise : message.noises) {
        if (!noise.again || !has_last) {
            events.noises.push_back(
                detail::noise_of(noise, tick_span(message.tick, welcome.settings.rate).end));
        }
    }
}

// Holds what was predicted against what the server says.
void Client::Impl::reconcile(const Moment& moment) {
    Past& then = past[static_cast<std::size_t>(moment.tick) % past.size()];
    if (then.tick != moment.tick) {
        // It has not come so far yet, or was not there: what the server says is the beginning.
        if (moment.tick < own->tick()) {
            detail::assume(*own, welcome.you, moment.own);
        }
        return;
    }
    if (then.own == moment.own) {
        confirm(moment.tick);
        return;
    }
    // A body that the game places moves as the server says: that is no misprediction.
    const bool is_placed = own->find(welcome.you)->motion.placed;
    if (!is_placed || !detail::differ_in_motion_only(then.own, moment.own)) {
        ++counts.corrections;
    }
    correct(moment);
}

void Client::Impl::correct(const Moment& moment) {
    const Vector3 was = own->find(welcome.you)->motion.position;
    const Tick until = own->tick();
    const Past& then = past[static_cast<std::size_t>(moment.tick) % past.size()];
    const bool same_actions =
        detail::sent_fighter(then.own).action_chain == detail::sent_fighter(moment.own).action_chain;
    [[maybe_unused]] const Outcome restored = own->restore(then.saved);
    assert(restored);
    counted = then.counted;
    detail::assume(*own, welcome.you, moment.own);
    note(moment.tick);
    std::vector<OwnEvent> did;
    for (Tick tick = moment.tick + 1; tick < until; ++tick) {
        predict(past[static_cast<std::size_t>(tick) % past.size()].intent, did);
    }
    const Vector3 by = was - own->find(welcome.you)->motion.position;
    counts.corrected += std::sqrt(by.squaredNorm());
    offset += by;
    if (offset.squaredNorm() > draws_at_most * draws_at_most) {
        offset = Vector3::Zero();
    }
    // Events that were shown and did not happen, and events that happened and were not shown.
    const Combatant there = [&] {
        Combatant who = *std::as_const(*own).match().find(welcome.you);
        return who;
    }();
    const bool dead = there.vitals.life == LifeState::dead;
    detail::OwnState at_moment = moment.own;
    Skirmish& skirmish = *own;
    std::erase_if(pending, [&](const OwnEvent& event) {
        bool stays = true;
        if (event.tick <= moment.tick) {
            const auto* shot = std::get_if<ShotEvent>(&event.event);
            const bool fired = shot == nullptr || shot->shot < skirmish.find(welcome.you)->shots;
            const bool alive = !dead || event.at <= there.vitals.last_hurt;
            const bool acted = !std::holds_alternative<ActionEvent>(event.event) || same_actions;
            mark(event, fired && alive && acted ? EventMark::confirmed : EventMark::withdrawn);
            return true;
        }
        stays = std::any_of(did.begin(), did.end(), [&](const OwnEvent& one) { return one.id == event.id; });
        if (!stays) {
            mark(event, EventMark::withdrawn);
        }
        return !stays;
    });
    add_new(did);
}

void Client::Impl::confirm(Tick until) {
    std::erase_if(pending, [&](const OwnEvent& event) {
        if (event.tick <= until) {
            mark(event, EventMark::confirmed);
        }
        return event.tick <= until;
    });
}

void Client::Impl::mark(OwnEvent event, EventMark mark) {
    event.mark = mark;
    if (mark == EventMark::withdrawn) {
        withdrawn.push_back(event.id);
        if (withdrawn.size() > 256) {
            withdrawn.pop_front();
        }
    }
    events.own.push_back(std::move(event));
}

// Shows what has not been shown yet.
void Client::Impl::add_new(std::vector<OwnEvent>& did) {
    for (OwnEvent& event : did) {
        const bool known = std::any_of(pending.begin(), pending.end(),
                                       [&](const OwnEvent& one) { return one.id == event.id; }) ||
                           std::find(withdrawn.begin(), withdrawn.end(), event.id) != withdrawn.end();
        if (!known) {
            pending.push_back({.id = event.id, .tick = event.tick, .at = event.at, .event = event.event});
            events.own.push_back(std::move(event));
        }
    }
}

// The next tick of its own combatant alone.
void Client::Impl::predict(const Intent& intent, std::vector<OwnEvent>& did) {
    const Tick tick = own->tick();
    count_tunings(tick);
    // Nobody can predict a body that the game places: it stays where the server has it.
    const BodyMotion& motion = own->find(welcome.you)->motion;
    const BodyUpdate stays{.who = welcome.you,
                           .position = motion.position,
                           .yaw = intent.yaw,
                           .velocity = motion.velocity,
                           .airborne = motion.airborne};
    const std::span<const BodyUpdate> unmoved{&stays, motion.placed ? 1U : 0U};
    actions.clear();
    if (hook) {
        GameTick turn{
            *own, {&intent, 1}, past[static_cast<std::size_t>(tick) % past.size()].commands, actions, true};
        hook(turn);
    }
    const std::span<const Event> happened = own->advance({&intent, 1}, unmoved, actions);
    collect(happened, tick, welcome.you, did);
    Past& now = past[static_cast<std::size_t>(tick) % past.size()];
    now.intent = intent;
    note(tick);
}

// Keeps how it stands after a tick.
void Client::Impl::note(Tick tick) {
    Past& now = past[static_cast<std::size_t>(tick) % past.size()];
    now.tick = tick;
    now.own = detail::own_state(*own, welcome.you);
    now.counted = counted;
    now.saved.resize(own->saved_size());
    (void)own->save(now.saved);
}

ClientEvents Client::tick(Intent wanted) {
    Impl& run = *impl_;
    assert(run.state == ClientState::playing);
    const Tick tick = run.own->tick();
    wanted.who = run.welcome.you;
    wanted.view_delay = static_cast<std::uint32_t>(run.view_delay.count());
    std::vector<OwnEvent> did;
    run.past[static_cast<std::size_t>(tick) % run.past.size()].commands = std::exchange(run.commands, {});
    run.predict(detail::as_sent(wanted), did);
    run.add_new(did);
    const Span span = tick_span(tick, run.welcome.settings.rate);
    run.offset *= std::exp2(-to_seconds(span.end - span.begin) / to_seconds(draws_in));
    // While it catches up, what it says last says enough.
    const bool hurries = run.own_clock.begin_of(tick + 4) <= run.local;
    if (tick % run.settings.send_every == 0 && !hurries) {
        run.send_intents(tick);
    }
    run.see();
    return std::exchange(run.events, {});
}

void Client::Impl::send_intents(Tick newest_tick) {
    detail::IntentsMessage message;
    message.newest = newest_tick;
    message.snapshot = newest;
    const Tick count = settings.send_every + settings.repeats;
    // The server remembers its last 64 snapshots.
    message.game_since_snapshot = newest >= 0 &&
                                  newest_tick - newest < Tick{32} * welcome.settings.snapshot_interval &&
                                  moments[index_of(newest)].game != GameBytes<32>{};
    for (Tick tick = newest_tick - count + 1; tick <= newest_tick; ++tick) {
        const Past& then = past[static_cast<std::size_t>(std::max<Tick>(0, tick)) % past.size()];
        if (then.tick == tick) {
            message.intents.push_back(then.intent);
            if (message.game_since_snapshot) {
                message.intents.back().game ^= moments[index_of(newest)].game;
            }
        }
    }
    send(detail::MessageKind::intents, Channel::unreliable, TrafficKind::stream, detail::encode(message));
    transport.flush();
}

} // namespace avrek
