#pragma once
#include "output.h"
#include <avrek/core/diagnostics.h>

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace CLI {
class App;
}

/// The command line, in the terms of this tool.
namespace avrek::cli {

/// Exit statuses.
inline constexpr int done = 0;
inline constexpr int not_right = 1;  ///< the checked thing is not right
inline constexpr int wrong_call = 2; ///< the call or the input is wrong

/// A reason to stop with `wrong_call`. Thrown by what a command calls, caught in main().
struct WrongCall {
    std::vector<std::string> lines; ///< for standard error
};

/// There is no `kind` of this name: says so, with what there is and what was probably meant.
WrongCall unknown_name(const std::string& kind, const std::string& name,
                       const std::vector<std::string>& known);

/// Throws WrongCall with these, unless there are none.
void stop_at(const std::vector<Diagnostic>& faults);

/// The options that every command takes.
struct CommonOptions {
    std::vector<std::string> words; ///< words without a dash: arsenal files and ids
    OutputOptions output;
    std::uint64_t seed = 1;
    bool watch = false;
    std::string session; ///< file that keeps changes; empty: none
};

/// The numbers that an option allows.
struct OptionRange {
    double min = 0.0;
    double max = 0.0;
    std::string unit;
};

/// The groups of commands in the help.
enum class CommandGroup : std::uint8_t { look, fire, fight, tune, shell };

/// One command of the tool while it is being described. What the options are read into must outlive the tool.
class Command {
  public:
    /// Adds a command to a group of the help, with the options that all commands take.
    Command(CLI::App& tool, CommandGroup group, const std::string& name, const std::string& description,
            CommonOptions& common);

    /// Adds --seed, for a command that draws random numbers.
    void seed(CommonOptions& common);
    /// Makes --seed default to a number that nobody can guess.
    void secret_seed(CommonOptions& common);

    /// Lets the command take words without a dash, under a name for its help.
    void words(CommonOptions& common, const std::string& name, const std::string& description);
    void flag(const std::string& option, bool& value, const std::string& description);
    void text(const std::string& option, std::string& value, const std::string& type,
              const std::string& description);
    /// Several texts, separated by commas.
    void texts(const std::string& option, std::vector<std::string>& values, const std::string& type,
               const std::string& description);
    /// Several texts, one for each time that the option is given.
    void repeated(const std::string& option, std::vector<std::string>& values, const std::string& type,
                  const std::string& description);
    void number(const std::string& option, double& value, const OptionRange& range, const std::string& type,
                const std::string& description);
    /// A number whose default is said in the description.
    void number(const std::string& option, std::optional<double>& value, const OptionRange& range,
                const std::string& type, const std::string& description);
    /// Several numbers, separated by commas.
    void numbers(const std::string& option, std::vector<double>& values, const OptionRange& range,
                 const std::string& type, const std::string& description);
    /// Adds --watch, which is described, and --session.
    void watch(CommonOptions& common, const std::string& description);
    /// Lets the command draw: --plot takes a file that ends in .png or .svg.
    void plot(std::string& file);
    /// Adds an example to the end of --help.
    void example(const std::string& call);
    /// Sets the action that runs once the options are read.
    void runs(const std::function<void()>& action);

  private:
    CLI::App* command_;
};

} // namespace avrek::cli
