// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/manual.h"

#include "cli/commands.h"

#include <fmt/format.h>
#include <string_view>
#include <vector>

namespace scorrere::cli {

namespace {

struct Entry {
    const char* name;
    const char* means;
};
constexpr std::array<Entry, 5> kFiles{
    {{"$XDG_CONFIG_HOME/scorrere/", "what the window remembers (~/.config)"},
     {"$XDG_STATE_HOME/scorrere/journal/", "what was not saved when it was killed (~/.local/state)"},
     {"$XDG_STATE_HOME/scorrere/log/", "the log: scorrere.log, and two before it"},
     {"$XDG_STATE_HOME/scorrere/crash/", "what was going on when it ended unexpectedly"},
     {"$XDG_CACHE_HOME/scorrere/", "pages that were seen last, for when the network is away (~/.cache)"}}};
constexpr std::array<Entry, 2> kVariables{
    {{"NAME", "the value of the secret NAME, where a collection signs its calls with one"},
     {"http_proxy, https_proxy, no_proxy", "the proxy that calls take"}}};

/// As text of a manual: nothing of it is taken for a command.
std::string plain(std::string_view text) {
    std::string out;
    for (const char letter : text) {
        if ((letter == '.' || letter == '\'') && (out.empty() || out.back() == '\n')) {
            out += "\\&";
        }
        out += letter == '-' ? "\\-" : letter == '\\' ? "\\e" : std::string(1, letter);
    }
    return out;
}

std::string withCommasAs(std::string_view other, std::string_view text) {
    std::string out;
    for (const char letter : text) {
        out += letter == ',' ? std::string(other) : std::string(1, letter);
    }
    return out;
}

bool isPlace(const CLI::Option& option) {
    return option.get_positional();
}

std::string valueOf(const CLI::Option& option) {
    if (option.get_items_expected_max() == 0) {
        return {}; // it is or is not
    }
    const std::string type = option.get_type_name();
    const std::size_t from = type.find('{');
    return from != std::string::npos && type.find('}', from) != std::string::npos
               ? type.substr(from + 1, type.find('}', from) - from - 1) // one of some words
           : type.starts_with("FILE")                            ? "FILE"
           : type.starts_with("FLOAT")                           ? "NUMBER"
           : type.starts_with("INT") || type.starts_with("UINT") ? "N"
                                                                 : "TEXT";
}

void describeOptions(std::string& page, const CLI::App& app) {
    for (const CLI::Option* option : app.get_options()) {
        const std::string value = valueOf(*option);
        const std::string name = isPlace(*option) ? option->get_name(true) : option->get_name(false, true);
        page += fmt::format(
            ".TP\n\\fB{}\\fR{}\n{}\n", plain(withCommasAs(", ", name)),
            value.empty() || isPlace(*option) ? "" : " \\fI" + plain(withCommasAs("|", value)) + "\\fR",
            plain(option->get_description()));
    }
}

std::vector<const CLI::App*> commandsOf(const CLI::App& app) {
    return app.get_subcommands([](const CLI::App* one) { return !one->get_group().empty(); });
}

std::string namesOf(const CLI::App& app) {
    std::string names;
    for (const CLI::Option* option : app.get_options()) {
        for (const std::string& name : option->get_lnames()) {
            const bool isOfEach = name == "help" && app.get_parent() != nullptr; // said by that of all
            names += isOfEach ? std::string() : (names.empty() ? "--" : " --") + name;
        }
    }
    return names;
}

/// What follows its options that take one of some words, or a file, as cases of a shell.
void completeValues(std::string& script, const CLI::App& app) {
    for (const CLI::Option* option : app.get_options()) {
        const std::string value = valueOf(*option);
        const bool areWords = value.find(',') != std::string::npos;
        if (isPlace(*option) || (!areWords && value != "FILE")) {
            continue;
        }
        std::string names;
        for (const std::string& name : option->get_snames()) {
            names += (names.empty() ? "-" : "|-") + name;
        }
        for (const std::string& name : option->get_lnames()) {
            names += (names.empty() ? "--" : "|--") + name;
        }
        const std::string words = withCommasAs(" ", value);
        script +=
            areWords
                ? fmt::format("    {}) COMPREPLY=($(compgen -W '{}' -- \"$now\")); return ;;\n", names, words)
                : fmt::format("    {}) compopt -o filenames; COMPREPLY=($(compgen -f -- \"$now\")); "
                              "return ;;\n",
                              names);
    }
}

} // namespace

std::string manualPage(const CLI::App& app) {
    std::string page =
        fmt::format(".TH SCORRERE 1 \"{}\" \"scorrere {}\" \"User Commands\"\n"
                    ".SH NAME\nscorrere \\- {}\n",
                    SCORRERE_RELEASED, SCORRERE_VERSION,
                    plain("run long and endless scrolling collections, and see what is out of sight"));
    page += ".SH SYNOPSIS\n.B scorrere\n[\\fIOPTIONS\\fR] [\\fIPLACE\\fR]\n";
    for (const CLI::App* command : commandsOf(app)) {
        page += fmt::format(".br\n.B scorrere {}\n[\\fIOPTIONS\\fR]{}\n", plain(command->get_name()),
                            command->get_option_no_throw("file") != nullptr ? " [\\fIFILE\\fR]" : "");
    }
    page += fmt::format(".SH DESCRIPTION\n{}\n", plain(app.get_description()));
    page += plain("Without a command the window opens, with what PLACE names.") + "\n.SH OPTIONS\n";
    describeOptions(page, app);
    page += ".SH COMMANDS\n";
    for (const CLI::App* command : commandsOf(app)) {
        page += fmt::format(".SS {}\n{}.\n", plain(command->get_name()), plain(command->get_description()));
        describeOptions(page, *command);
    }
    page += ".SH EXIT STATUS\n" + plain("The same of every command.") + "\n";
    for (const ExitCode& one : kExitCodes) {
        page += fmt::format(".TP\n\\fB{}\\fR\n{}\n", one.code, plain(one.means));
    }
    page += ".SH FILES\n";
    for (const Entry& file : kFiles) {
        page += fmt::format(".TP\n\\fI{}\\fR\n{}\n", plain(file.name), plain(file.means));
    }
    page += ".SH ENVIRONMENT\n";
    for (const Entry& variable : kVariables) {
        page += fmt::format(".TP\n\\fB{}\\fR\n{}\n", plain(variable.name), plain(variable.means));
    }
    page += ".SH SEE ALSO\n" +
            plain("/usr/share/doc/scorrere/: the first five minutes, a walk for each kind of "
                  "job, and the collection file in full.") +
            "\n";
    return page;
}

std::string bashCompletion(const CLI::App& app) {
    std::string script =
        "# What bash completes after scorrere.\n_scorrere() {\n"
        "  local now=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD-1]} command= word\n"
        "  COMPREPLY=()\n"
        "  for word in \"${COMP_WORDS[@]:1:COMP_CWORD-1}\"; do\n    case $word in\n      ";
    std::string names;
    for (const CLI::App* command : commandsOf(app)) {
        script += (names.empty() ? "" : "|") + command->get_name();
        names += (names.empty() ? "" : " ") + command->get_name();
    }
    script += ") command=$word; break ;;\n    esac\n  done\n  case $before in\n";
    completeValues(script, app);
    for (const CLI::App* command : commandsOf(app)) {
        completeValues(script, *command);
    }
    script += "  esac\n  local words=\n  case $command in\n";
    for (const CLI::App* command : commandsOf(app)) {
        script +=
            fmt::format("    {}) words='{} {}' ;;\n", command->get_name(), namesOf(*command), namesOf(app));
    }
    script += fmt::format("    *) words='{} {}' ;;\n  esac\n", names, namesOf(app));
    script += "  COMPREPLY=($(compgen -W \"$words\" -- \"$now\"))\n"
              "  if [[ $now != -* ]]; then\n    compopt -o filenames 2>/dev/null\n"
              "    COMPREPLY+=($(compgen -f -- \"$now\"))\n  fi\n}\ncomplete -F _scorrere scorrere\n";
    return script;
}

} // namespace scorrere::cli
