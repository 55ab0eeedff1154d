#include <avrek/core/diagnostics.h>

namespace avrek {

std::string to_string(const Diagnostic& diagnostic) {
    std::string text = diagnostic.file;
    if (diagnostic.line > 0) {
        text += ':' + std::to_string(diagnostic.line) + ':' + std::to_string(diagnostic.column);
    }
    text += text.empty() ? "" : ": ";
    text += diagnostic.severity == Severity::error ? "error: " : "warning: ";
    if (!diagnostic.where.empty()) {
        text += diagnostic.where + ": ";
    }
    text += diagnostic.message;
    if (!diagnostic.suggestion.empty()) {
        text += ", did you mean '" + diagnostic.suggestion + "'?";
    }
    if (!diagnostic.allowed.empty()) {
        text += "; allowed: " + diagnostic.allowed;
    }
    return text;
}

} // namespace avrek
