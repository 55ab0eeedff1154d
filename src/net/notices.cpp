#include "../core/words.h"
#include <avrek/net/notices.h>

#include <algorithm>

namespace avrek {

std::string_view to_string(NoticeKind kind) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"hit", "death", "respawn", "launched", "deflected", "stuck", "landed", "exploded", "pickup taken",
         "pickup placed", "weapon dropped", "weapon taken", "hazard laid", "hazard ended", "match over",
         "joined", "left", "action", "game"});
    return detail::word_of(words, kind);
}

bool Audience::holds(BodyId listener, TeamId its_team) const {
    switch (kind) {
    case AudienceKind::all:
        return true;
    case AudienceKind::all_but:
        return listener != who;
    case AudienceKind::team:
        return its_team == team;
    case AudienceKind::one:
        return listener == who;
    }
    return false;
}

void NoticeBoard::remember(const Notice& notice, const Audience& audience) {
    if (notice.kind == NoticeKind::game) {
        forget_topic(notice.number);
    } else {
        forget(notice.kind, notice.who);
    }
    remembered_.push_back({notice, audience});
}

void NoticeBoard::forget(NoticeKind kind, BodyId who) {
    std::erase_if(remembered_,
                  [&](const Remembered& one) { return one.notice.kind == kind && one.notice.who == who; });
}

void NoticeBoard::forget_topic(std::uint32_t topic) {
    std::erase_if(remembered_, [topic](const Remembered& one) {
        return one.notice.kind == NoticeKind::game && one.notice.number == topic;
    });
}

std::vector<Notice> NoticeBoard::for_listener(BodyId listener, TeamId team) const {
    std::vector<Notice> told;
    for (const Remembered& one : remembered_) {
        if (one.audience.holds(listener, team)) {
            told.push_back(one.notice);
        }
    }
    return told;
}

} // namespace avrek
