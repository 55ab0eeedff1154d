#include "session.h"

#include <utility>

// A session over a link.
namespace avrek::playground {

namespace {

constexpr Duration between_steps = std::chrono::milliseconds{250};
constexpr const char* joining = "joining";
constexpr Duration patience = std::chrono::seconds{10}; // for an answer
constexpr Duration stands_still = std::chrono::milliseconds{400};
constexpr Duration between_proposals = std::chrono::milliseconds{1100}; // a server hears one a second

} // namespace

BodyId Session::player() const {
    return is_linked() ? linked_->you().who() : stage_.player();
}

std::string Session::name_of(BodyId who) const {
    const LedgerValue* name = is_linked() ? linked_->you().client().ledger().find(who, "name") : nullptr;
    const auto* text = name != nullptr ? std::get_if<std::string>(name) : nullptr;
    if (text != nullptr) {
        return *text;
    }
    // A server elsewhere has combatants of its own, and names those of its players alone.
    const bool is_elsewhere = is_linked() && linked_->server() == nullptr;
    return is_elsewhere ? "combatant " + std::to_string(static_cast<std::uint32_t>(who))
                        : stage_.name_of(who);
}

std::int64_t Session::team_score(TeamId team) const {
    return is_linked() ? linked_->you().client().ledger().whole(
                             nobody, "score." + std::to_string(static_cast<int>(team)))
                       : fight().match().team_score(team);
}

Seen Session::seen() const {
    // Over a link the client has placed everybody for the present picture.
    return {fight(),         player(), picture_, picture_time(), is_linked() ? present : picture_time(),
            controls().look, view_};
}

std::optional<Seen> Session::second_seen() const {
    const LinkedPlayer* second = is_linked() ? linked_->second() : nullptr;
    if (second == nullptr || !second->is_playing() ||
        !(shows(Command::show_second) || shows(Command::second_window))) {
        return std::nullopt;
    }
    return Seen{second->fight(), second->who(),         second_picture_, second->shown(linked_->now()),
                present,         second->controls.look, View::eye};
}

void Session::take_events() {
    if (linked_ != nullptr && !is_linked()) {
        return; // nobody plays
    }
    const NameOf name_of = [this](BodyId who) { return this->name_of(who); };
    take(picture_, events(), fight(), player(), name_of);
    take(board_, events(), player());
    const LinkedPlayer* second = is_linked() ? linked_->second() : nullptr;
    if (second != nullptr && second->is_playing()) {
        take(second_picture_, second->events(), second->fight(), second->who(), name_of);
        drop_over(second_picture_, second->shown(linked_->now()));
    }
}

void Session::connect(const LinkSettings& link) {
    const bool is_new = linked_ == nullptr || begins_anew(link_, link);
    if (linked_ != nullptr && linked_->server() == nullptr) {
        notice_ = "the link to a server elsewhere is as it is";
        return;
    }
    link_ = link_wanted_ = link;
    begins_at_.reset();
    if (!is_new) {
        linked_->change(link);
        return;
    }
    // The server begins with the values that count now.
    auto data = std::make_shared<GameData>(stage_.data());
    data->texts = tuner_.texts();
    data->arsenal = *tuner_.arsenal();
    data->digest = digest_of(data->texts);
    if (const std::vector<Diagnostic> faults = validate_stage(*data, settings_); !faults.empty()) {
        notice_ = to_string(faults.front());
        return;
    }
    linked_ = std::make_unique<LinkedFight>(std::move(data), settings_, link);
    picture_ = {};
    second_picture_ = {};
    board_ = {};
    is_to_tell_ = false;
    notice_ = "over a link";
}

// A slider that is dragged begins a match anew once it stands still.
void Session::want_link(const LinkSettings& link) {
    link_wanted_ = link;
    if (linked_ == nullptr) {
        link_ = link;
    } else if (begins_anew(link_, link)) {
        begins_at_ = clock_ + stands_still;
    } else {
        connect(link);
    }
}

void Session::join(BodyId who, const ClientSettings& settings, std::unique_ptr<Transport> host) {
    // A server lets in who has its values, which are those that the session began with.
    linked_ = std::make_unique<LinkedFight>(std::make_shared<const GameData>(stage_.data()), who, settings,
                                            std::move(host));
    picture_ = {};
    board_ = {};
    is_to_tell_ = false;
    notice_ = joining;
}

void Session::disconnect() {
    linked_.reset();
    picture_ = {};
    board_ = {};
    notice_ = "alone again";
}

void Session::play_over_link(Duration real) {
    if (begins_at_ && clock_ >= *begins_at_) {
        connect(link_wanted_);
    }
    tell_server();
    linked_->play(real);
    const Client& client = linked_->you().client();
    if (notice_ == joining && is_linked()) {
        notice_ = "joined";
    }
    if (client.state() == ClientState::connecting && linked_->now() - Time{} > patience) {
        disconnect();
        notice_ = "nobody answers";
        return;
    }
    if (client.state() == ClientState::refused || client.state() == ClientState::ended) {
        const std::string reason = client.reason();
        disconnect();
        notice_ = "the link has ended: " + reason;
    }
}

// A slider that is dragged is told four times a second; a server elsewhere is asked once.
void Session::tell_server() {
    if (!is_to_tell_ || clock_ < tells_at_ || !is_linked()) {
        return;
    }
    is_to_tell_ = false;
    if (linked_->server() != nullptr) {
        tells_at_ = clock_ + between_steps;
        const Loaded<Tick> told = linked_->retune({.texts = tuner_.texts(), .replaces = true});
        for (const Diagnostic& fault : told.diagnostics) {
            notice_ = told ? notice_ : to_string(fault);
        }
        return;
    }
    tells_at_ = clock_ + between_proposals;
    if (Loaded<ArsenalText> changes = tuner_.whole_overlay("playground.toml")) {
        const Outcome asked = linked_->propose({.texts = {std::move(*changes.value)}});
        notice_ = asked ? notice_ : std::string{asked.why()};
    }
}

} // namespace avrek::playground
