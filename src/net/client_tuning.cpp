#include "client_impl.h"

#include <algorithm>
#include <cassert>
#include <utility>

/// Values that change while a client plays.
namespace avrek {

void Client::Impl::take_tuning(std::span<const std::byte> body) {
    const auto message = detail::decode_tuning(body);
    auto step = message && message->number == tunings.size() ? unpack_tuning(message->packed) : std::nullopt;
    if (!step) {
        ++counts.not_understood;
        return;
    }
    const auto arsenal = tuned.with(*step);
    if (!arsenal) {
        const std::string why =
            arsenal.diagnostics.empty() ? std::string{} : ": " + to_string(arsenal.diagnostics.front());
        end(ClientState::ended,
            "the server changes values in a way that does not fit the arsenal here" + why);
        return;
    }
    tuned.take(*step);
    tunings.push_back({message->tick, *arsenal});
    events.tuned.push_back({.tick = message->tick, .step = std::move(*step)});
    if (state == ClientState::playing) {
        if (message->tick < own->tick()) {
            predict_again(message->tick); // it was told too late
        }
        show_tunings(newest);
    }
}

void Client::Impl::take_answer(std::span<const std::byte> body) {
    auto refusals = detail::decode_answer(body);
    if (!refusals) {
        ++counts.not_understood;
        return;
    }
    events.tuned.push_back({.refusals = std::move(*refusals)});
}

// Before the own combatant goes on to a tick: it takes the steps that count by then.
void Client::Impl::count_tunings(Tick tick) {
    for (; counted < tunings.size() && tunings[counted].tick <= tick; ++counted) {
        (void)own->retune(tunings[counted].arsenal);
    }
}

// Predicts the ticks from `from` on anew. What happens otherwise now is withdrawn.
void Client::Impl::predict_again(Tick from) {
    const Tick until = own->tick();
    const Past& before = past[static_cast<std::size_t>(std::max<Tick>(0, from - 1)) % past.size()];
    std::vector<OwnEvent> did;
    if (before.tick != from - 1) {
        return; // nobody remembers: it counts from the next tick on, and a snapshot corrects what is off
    }
    [[maybe_unused]] const Outcome restored = own->restore(before.saved);
    assert(restored);
    counted = before.counted;
    for (Tick tick = from; tick < until; ++tick) {
        predict(past[static_cast<std::size_t>(tick) % past.size()].intent, did);
    }
    std::erase_if(pending, [&](const OwnEvent& event) {
        const bool goes =
            event.tick >= from &&
            std::none_of(did.begin(), did.end(), [&](const OwnEvent& one) { return one.id == event.id; });
        if (goes) {
            mark(event, EventMark::withdrawn);
        }
        return goes;
    });
    add_new(did);
}

// The picture of others goes by the steps that counted when the server saw them.
void Client::Impl::show_tunings(Tick tick) {
    for (; shown_tunings < tunings.size() && tunings[shown_tunings].tick <= tick; ++shown_tunings) {
        const Arsenal& was = view->arsenal();
        if (!view->retune(tunings[shown_tunings].arsenal)) {
            continue;
        }
        const Arsenal& is = view->arsenal();
        std::vector<const RigSpec*> rigs_before;
        std::vector<const RigSpec*> rigs;
        for (std::size_t body = 0; body < is.bodies.size(); ++body) {
            rigs.push_back(&is.bodies[body].rig);
            if (body < was.bodies.size()) {
                rigs_before.push_back(&was.bodies[body].rig);
            }
        }
        picture->change_rigs(rigs_before, rigs, max_joints + 1);
        flights->retune(is, welcome.settings.projectiles);
    }
}

Outcome Client::propose(const TuningStep& step) {
    Impl& run = *impl_;
    if (run.state != ClientState::playing) {
        return Outcome::refused("it is not playing");
    }
    const std::vector<std::byte> packed = pack(step);
    if (packed.empty() || packed.size() > max_proposal_bytes) {
        return Outcome::refused("the step is too large for a client: see max_proposal_bytes");
    }
    run.send(detail::MessageKind::proposal, Channel::reliable, TrafficKind::session,
             detail::encode_proposal(packed));
    run.transport.flush();
    return Outcome::done();
}

} // namespace avrek
