#include "toml_guard.h"

#include <cctype>

namespace avrek::detail {

namespace {

constexpr std::size_t max_dots_in_a_key = 32;

// Walks a text and knows at each character whether it stands in a string, in a comment or outside of both.
class Walk {
  public:
    explicit Walk(std::string_view text) : text_(text) {}

    bool at_end() const { return at_ >= text_.size(); }
    char character() const { return text_[at_]; }
    /// Where a quote stands in the middle of a word, the parser may not take it for the begin of a string.
    bool outside() const { return !comment_ && (quote_.empty() || in_word_); }
    bool in_comment() const { return comment_; }
    std::uint32_t line() const { return line_; }
    std::uint32_t column() const { return column_; }

    void next() {
        const char now = character();
        if (now == '\n') {
            ++line_;
            column_ = 0;
            comment_ = false;
            quote_ = quote_.size() == 3 ? quote_ : std::string_view{};
        }
        if (quote_.empty() && !comment_) {
            open(now);
        } else if (!quote_.empty()) {
            close(now);
        }
        step();
    }

  private:
    void open(char now) {
        comment_ = now == '#';
        if (now == '"' || now == '\'') {
            in_word_ =
                at_ > 0 && std::string_view{" \t\r\n=[{,."}.find(text_[at_ - 1]) == std::string_view::npos;
            const bool triple = text_.substr(at_, 3) == std::string(3, now);
            quote_ = text_.substr(at_, triple ? 3 : 1);
            skip(quote_.size() - 1);
        }
    }

    void close(char now) {
        if (now == '\\' && quote_.front() == '"' && at_ + 1 < text_.size() && text_[at_ + 1] != '\n') {
            step();
        } else if (text_.substr(at_, quote_.size()) == quote_) {
            skip(quote_.size() - 1);
            // A text in three quotes may itself end in one or two.
            for (int more = 0; more < 2 && quote_.size() == 3 && text_.substr(at_ + 1).starts_with(now);
                 ++more) {
                step();
            }
            quote_ = {};
        }
    }

    void skip(std::size_t count) {
        for (std::size_t skipped = 0; skipped < count; ++skipped) {
            step();
        }
    }

    void step() {
        const bool continues = (static_cast<unsigned char>(text_[at_]) & 0xC0U) == 0x80U;
        column_ += continues ? 0 : 1;
        ++at_;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    std::uint32_t line_ = 1;
    std::uint32_t column_ = 1;
    std::string_view quote_; // what ends the string that we are in; empty outside of strings
    bool in_word_ = false;   // and it began in the middle of a word
    bool comment_ = false;
};

} // namespace

bool is_key_character(char character) {
    return std::isalnum(static_cast<unsigned char>(character)) != 0 ||
           std::string_view{"_-'\". \t"}.find(character) != std::string_view::npos;
}

std::optional<GuardFault> find_guard_fault(std::string_view text) {
    constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
    Walk walk{text.starts_with(byte_order_mark) ? text.substr(byte_order_mark.size()) : text};
    std::size_t dots = 0;
    for (; !walk.at_end(); walk.next()) {
        const char character = walk.character();
        if (walk.outside() && static_cast<unsigned char>(character) >= 0x80U) {
            return GuardFault{walk.line(), walk.column(), "a character outside of text and remarks",
                              "letters, digits and signs of ASCII"};
        }
        // Dots count in strings too: a wrong guess about where one ends must not let a deep key through.
        dots = character == '.' && !walk.in_comment() ? dots + 1 : is_key_character(character) ? dots : 0;
        if (dots > max_dots_in_a_key) {
            return GuardFault{walk.line(), walk.column(), "a key with too many dots", "at most 32 dots"};
        }
    }
    return std::nullopt;
}

} // namespace avrek::detail
