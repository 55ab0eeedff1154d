#include <avrek/data/tuned_arsenal.h>

#include <zstd.h>

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <iterator>
#include <string>
#include <utility>

namespace avrek {

namespace {

constexpr int packing = 6; // level of zstd
constexpr std::size_t max_texts = 64;

void put(std::string& to, std::string_view text) {
    const auto size = static_cast<std::uint32_t>(text.size());
    for (unsigned shift = 0; shift < 32; shift += 8) {
        to.push_back(static_cast<char>(size >> shift & 0xffU));
    }
    to += text;
}

std::optional<std::string> take_text(std::string_view& from) {
    if (from.size() < 4) {
        return std::nullopt;
    }
    std::uint32_t size = 0;
    for (unsigned byte = 0; byte < 4; ++byte) {
        size |= static_cast<std::uint32_t>(static_cast<unsigned char>(from[byte])) << 8U * byte;
    }
    from.remove_prefix(4);
    if (size > from.size()) {
        return std::nullopt;
    }
    std::string text{from.substr(0, size)};
    from.remove_prefix(size);
    return text;
}

std::size_t size_of(const TuningStep& step) {
    std::size_t size = 1;
    for (const ArsenalText& text : step.texts) {
        size += 8 + text.name.size() + text.text.size();
    }
    return size;
}

} // namespace

TunedArsenal::TunedArsenal(std::vector<ArsenalText> base) : texts_(std::move(base)) {}

Loaded<std::shared_ptr<const Arsenal>> TunedArsenal::with(const TuningStep& step) const {
    const std::string name = step.texts.empty() ? "(no text)" : step.texts.front().name;
    const auto refuse = [&name](std::string what, std::string allowed) {
        return Loaded<std::shared_ptr<const Arsenal>>{
            std::nullopt, {{.file = name, .message = std::move(what), .allowed = std::move(allowed)}}};
    };
    if (size_of(step) > max_tuning_bytes || step.texts.size() > max_texts) {
        return refuse("the texts are too large", "at most 64 texts of 4 MiB together");
    }
    if (texts_.empty() && !step.replaces) {
        return refuse("there is nothing to overlay: the arsenal was made in code",
                      "texts of a whole arsenal");
    }
    std::vector<ArsenalText> all = step.replaces ? std::vector<ArsenalText>{} : texts_;
    all.insert(all.end(), step.texts.begin(), step.texts.end());
    Loaded<Arsenal> arsenal = parse_arsenal(all);
    // Warnings about the texts before have been said before.
    std::erase_if(arsenal.diagnostics, [&step](const Diagnostic& fault) {
        return fault.severity == Severity::warning &&
               std::none_of(step.texts.begin(), step.texts.end(),
                            [&fault](const ArsenalText& text) { return text.name == fault.file; });
    });
    Loaded<std::shared_ptr<const Arsenal>> made;
    made.diagnostics = std::move(arsenal.diagnostics);
    if (arsenal) {
        made.value = std::make_shared<const Arsenal>(std::move(*arsenal.value));
    }
    return made;
}

void TunedArsenal::take(TuningStep step) {
    if (step.replaces) {
        texts_.clear();
    }
    texts_.insert(texts_.end(), step.texts.begin(), step.texts.end());
    steps_.push_back(std::move(step));
}

std::vector<std::byte> pack(const TuningStep& step) {
    std::vector<std::byte> packed;
    if (size_of(step) > max_tuning_bytes || step.texts.size() > max_texts) {
        return packed;
    }
    std::string plain(1, step.replaces ? '\1' : '\0');
    for (const ArsenalText& text : step.texts) {
        put(plain, text.name);
        put(plain, text.text);
    }
    packed.resize(ZSTD_compressBound(plain.size()));
    packed.resize(ZSTD_compress(packed.data(), packed.size(), plain.data(), plain.size(), packing));
    return packed;
}

std::optional<TuningStep> unpack_tuning(std::span<const std::byte> bytes) {
    const unsigned long long size = ZSTD_getFrameContentSize(bytes.data(), bytes.size());
    if (size == ZSTD_CONTENTSIZE_UNKNOWN || size == ZSTD_CONTENTSIZE_ERROR || size < 1 ||
        size > max_tuning_bytes) {
        return std::nullopt;
    }
    std::string plain(static_cast<std::size_t>(size), '\0');
    if (ZSTD_decompress(plain.data(), plain.size(), bytes.data(), bytes.size()) != plain.size()) {
        return std::nullopt;
    }
    std::string_view rest = plain;
    TuningStep step{.replaces = rest.front() != '\0'};
    rest.remove_prefix(1);
    while (!rest.empty()) {
        auto name = take_text(rest);
        auto text = name ? take_text(rest) : std::nullopt;
        if (!text || step.texts.size() == max_texts) {
            return std::nullopt;
        }
        step.texts.push_back({std::move(*name), std::move(*text)});
    }
    return step;
}

} // namespace avrek
