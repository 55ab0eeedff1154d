#include "session_options.h"

#include "progress.h"

#include <fmt/format.h>

#include <charconv>

namespace avrek::cli {

namespace {

constexpr std::string_view ending = ".session";

std::optional<double> number_of(const std::string& text) {
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() ? std::optional{value} : std::nullopt;
}

std::string shortened(const std::string& text) {
    return text.empty() ? "not there" : text.size() > 40 ? text.substr(0, 37) + "..." : text;
}

} // namespace

bool is_session(std::string_view word) {
    const std::size_t at = word.rfind('@');
    return word.ends_with(ending) || (at != std::string_view::npos && word.substr(0, at).ends_with(ending));
}

std::pair<std::string, std::optional<std::int64_t>> session_parts(const std::string& word) {
    if (word.ends_with(ending)) {
        return {word, std::nullopt};
    }
    const std::size_t at = word.rfind('@');
    std::int64_t number = -1;
    const char* const last = word.data() + word.size();
    const auto [end, error] = std::from_chars(word.data() + std::min(at, word.size() - 1) + 1, last, number);
    if (!is_session(word) || error != std::errc{} || end != last || number < 0) {
        throw WrongCall{{fmt::format("error: '{}' is no change of a session; allowed: FILE{}, for its last "
                                     "change, or FILE{}@NUMBER",
                                     word, ending, ending)}};
    }
    return {word.substr(0, at), number};
}

std::vector<ArsenalText> session_texts(const std::string& word) {
    const auto [file, number] = session_parts(word);
    const Loaded<TuningSession> session = TuningSession::read(file);
    stop_at(session.diagnostics);
    Loaded<std::vector<ArsenalText>> texts = number ? session->texts(*number) : session->last_texts();
    stop_at(texts.diagnostics);
    return std::move(*texts);
}

SessionTime session_now() {
    return std::chrono::time_point_cast<std::chrono::milliseconds>(std::chrono::system_clock::now());
}

std::string difference_text(const ArsenalDifference& one) {
    const auto before = number_of(one.before);
    const auto after = number_of(one.after);
    const std::string percent = before && after && *before != 0.0
                                    ? fmt::format(" ({:+.1f} %)", 100.0 * (*after / *before - 1.0))
                                    : "";
    return fmt::format("{}: {} -> {}{}", one.path, shortened(one.before), shortened(one.after), percent);
}

SessionKeeper::SessionKeeper(const std::string& file, std::span<const ArsenalText> texts,
                             const std::string& by) {
    if (file.empty()) {
        return;
    }
    if (!file.ends_with(ending)) {
        throw WrongCall{{fmt::format("error: --session '{}' is not allowed; allowed: a file that ends in {}",
                                     file, ending)}};
    }
    Loaded<TuningSession> opened = TuningSession::open(file);
    stop_at(opened.diagnostics);
    stop_at(opened->keep(texts, session_now(), by).diagnostics);
    session_ = std::move(*opened.value);
}

void SessionKeeper::keep(std::span<const ArsenalText> texts, const std::string& by) {
    if (!session_ || failed_) {
        return;
    }
    for (const Diagnostic& fault : session_->keep(texts, session_now(), by).diagnostics) {
        failed_ = true;
        fmt::print(stderr, "{}{}; later changes are not kept either\n",
                   Progress::is_shown() ? "\r\033[K" : "", to_string(fault));
    }
}

} // namespace avrek::cli
