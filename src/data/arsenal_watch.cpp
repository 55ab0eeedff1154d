#include <avrek/data/arsenal_watch.h>

#include <algorithm>
#include <iterator>
#include <utility>

namespace avrek {

bool ArsenalWatch::Read::is_same(const Read& other) const {
    const auto same_text = [](const ArsenalText& one, const ArsenalText& two) {
        return one.name == two.name && one.text == two.text;
    };
    const auto same_fault = [](const Diagnostic& one, const Diagnostic& two) {
        return one.message == two.message;
    };
    return std::equal(texts.begin(), texts.end(), other.texts.begin(), other.texts.end(), same_text) &&
           std::equal(faults.begin(), faults.end(), other.faults.begin(), other.faults.end(), same_fault);
}

ArsenalWatch::Read ArsenalWatch::read() const {
    Read found;
    for (const std::string& file : files_) {
        Loaded<ArsenalText> text = read_arsenal_text(file);
        found.texts.push_back(text ? std::move(*text) : ArsenalText{file, {}});
        std::move(text.diagnostics.begin(), text.diagnostics.end(), std::back_inserter(found.faults));
    }
    return found;
}

ArsenalWatch::ArsenalWatch(std::vector<std::string> files) : files_(std::move(files)) {
    told_ = last_ = read();
    good_ = told_.texts;
}

std::optional<ArsenalNews> ArsenalWatch::look() {
    Read now = read();
    const bool is_settled = now.is_same(last_);
    last_ = std::move(now);
    if (!is_settled || last_.is_same(told_)) {
        return std::nullopt;
    }
    told_ = last_;
    ArsenalNews news;
    news.diagnostics = last_.faults;
    if (!news.diagnostics.empty()) {
        return news;
    }
    news.step = {.texts = last_.texts, .replaces = true};
    auto arsenal = TunedArsenal{}.with(news.step);
    news.diagnostics = std::move(arsenal.diagnostics);
    if (arsenal) {
        news.arsenal = std::move(*arsenal);
        news.differences = differences(good_, last_.texts);
        good_ = last_.texts;
    }
    return news;
}

} // namespace avrek
