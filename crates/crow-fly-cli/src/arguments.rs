//! What can be typed. It depends on nothing of this program: the chore `manual` reads it, too.

use std::path::PathBuf;

use clap::{Args, Command as ClapCommand, CommandFactory, Parser, Subcommand, ValueEnum};

/// Work on the languages of an application: its texts, decisions and catalogs
#[derive(Parser)]
#[command(name = "crow-fly", version, max_term_width = 100, arg_required_else_help = true)]
pub(crate) struct Arguments {
    #[command(subcommand)]
    pub(crate) command: Command,

    /// The application's configuration
    // Shown once, in the help of the whole: see `GLOBAL`.
    #[arg(long, global = true, hide = true, value_name = "FILE", default_value = "crow-fly.toml")]
    pub(crate) config: PathBuf,
}

/// The commands by who needs them, as the help shows them.
pub(crate) const GROUPS: [(&str, &[&str]); 6] = [
    ("Look", &["say", "explain", "tag"]),
    ("Write", &["init", "add-locale", "gather", "rename"]),
    ("Keep right", &["check", "coverage", "accept"]),
    ("Translate", &["export", "import"]),
    ("Ship", &["release"]),
    ("More", &["completions", "help"]),
];

/// The options that every command takes.
const GLOBAL: &str = "Options of every command:
      --config FILE    The configuration; `crow-fly.toml` if not given
      --format FORMAT  `text` or `json`; the help of a command lists all
  -h, --help           Show help
  -V, --version        Show the version";

/// How a command ends.
pub(crate) const STATUS: &str = "Exit status: 0 all is well, 1 something was found, 2 it could not be done.";

impl Arguments {
    /// The command with the help of the whole, whose list is in groups.
    pub(crate) fn grouped() -> ClapCommand {
        let command = Self::command();
        let template =
            format!("{{about}}.\n\nUsage: crow-fly COMMAND …\n\n{}\n\n{GLOBAL}\n\n{STATUS}", list(&command));
        command.help_template(template)
    }
}

/// The commands with what each does, group by group.
fn list(command: &ClapCommand) -> String {
    let about = |name: &str| match command.find_subcommand(name).and_then(ClapCommand::get_about) {
        Some(about) => about.to_string(),
        None => "Show the help of a command".to_owned(),
    };
    let line = |name: &&str| format!("  {name:<12} {}\n", about(name));
    let group = |(group, names): (&str, &[&str])| {
        let lines: String = names.iter().map(line).collect();
        format!("{group}:\n{lines}")
    };
    GROUPS.map(group).join("\n").trim_end().to_owned()
}

#[derive(Subcommand)]
pub(crate) enum Command {
    /// Show a message as visitors read it, in one locale or in all
    Say(SayArguments),
    /// Explain which locale a request gets, and why
    Explain(ExplainArguments),
    /// Show what is known of a language: names, fallbacks, plural forms
    Tag(TagArguments),
    /// Start: write a configuration and catalogs in two languages
    Init(InitArguments),
    /// Add a locale: the files of the default locale, to be translated
    AddLocale(AddLocaleArguments),
    /// Copy default texts from the code to the default locale
    #[command(long_about = "Copy default texts from the code, `say(\"…\").or(\"…\")`, to the default locale")]
    Gather(GatherArguments),
    /// Rename the key of a message, in all locales and in the code
    Rename(RenameArguments),
    /// Find mistakes in catalogs, and keys in the code without a text
    Check(CheckArguments),
    /// Count what is translated in each locale, and what is left
    Coverage(CoverageArguments),
    /// Mark translations as up to date after a source text has changed
    Accept(AcceptArguments),
    /// Write the texts of a locale to a file for translators
    Export(ExportArguments),
    /// Read translations back from such a file
    Import(ImportArguments),
    /// Publish catalogs to a store; list, compare, activate releases
    Release(ReleaseArguments),
    /// Print completions for a shell
    Completions(CompletionsArguments),
}

impl Command {
    /// Whether it was told to change files of the project.
    pub(crate) fn writes(&self) -> bool {
        match self {
            Self::Init(_) => true,
            Self::AddLocale(what) => what.write,
            Self::Gather(what) => what.write,
            Self::Rename(what) => what.write,
            Self::Check(what) => what.write,
            Self::Accept(what) => what.write,
            Self::Import(what) => what.write,
            Self::Say(_)
            | Self::Explain(_)
            | Self::Tag(_)
            | Self::Coverage(_)
            | Self::Export(_)
            | Self::Release(_)
            | Self::Completions(_) => false,
        }
    }
}

/// The form of the output.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, ValueEnum)]
pub(crate) enum Format {
    /// For people
    #[default]
    Text,
    /// For programs
    Json,
}

#[derive(Args)]
pub(crate) struct FormatArguments {
    /// The form of the output
    #[arg(long, value_name = "FORMAT", value_enum, hide_possible_values = false, default_value = "text")]
    pub(crate) format: Format,
}

impl FormatArguments {
    pub(crate) fn is_json(&self) -> bool {
        self.format == Format::Json
    }
}

#[derive(Args)]
#[command(
    after_help = "Example:\n  crow-fly completions bash > ~/.local/share/bash-completion/completions/crow-fly"
)]
pub(crate) struct CompletionsArguments {
    /// The shell
    #[arg(value_name = "SHELL", value_enum)]
    pub(crate) shell: clap_complete::Shell,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly say sailing.seats-left --locale pl seats=3\n  crow-fly say sailing.departs --all time=2026-06-01T07:30:00Z boat=Curlew\n  crow-fly say sailing.seats-left --pseudo seats=3"
)]
pub(crate) struct SayArguments {
    /// The key of the message: `section.name`
    pub(crate) key: String,

    /// The arguments of the message: numbers, texts, dates (`2026-06-01`), moments (`2026-06-01T07:30:00Z`). Lists and
    /// amounts of money are JSON: `["Holm", "Ness"]`, `{ "amount": "12.50", "currency": "EUR" }`. Where the message wants
    /// a date, a number is Unix seconds
    #[arg(value_name = "NAME=VALUE", value_parser = name_and_value)]
    pub(crate) arguments: Vec<(String, String)>,

    /// The locale; the default locale if not given
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Option<String>,

    /// Show the message in all locales
    #[arg(long, short, conflicts_with = "locale")]
    pub(crate) all: bool,

    /// Show the default locale's text as a pseudo-locale has it: `en-XA` is accented and longer, `ar-XB` (`--pseudo=ar-XB`) goes from right
    /// to left
    #[arg(
        long,
        value_name = "TAG",
        num_args = 0..=1,
        require_equals = true,
        default_missing_value = "en-XA",
        conflicts_with_all = ["all", "locale"]
    )]
    pub(crate) pseudo: Option<String>,

    /// The time zone of the visitor
    #[arg(long, value_name = "ZONE")]
    pub(crate) time_zone: Option<String>,

    /// The form of the output
    #[arg(long, value_name = "FORMAT", value_enum, default_value = "text")]
    pub(crate) format: SayFormat,
}

/// The forms of a message.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub(crate) enum SayFormat {
    /// The text
    Text,
    /// The message as HTML
    Html,
    /// Both, for programs
    Json,
}

#[derive(Args)]
#[command(after_help = "Examples:\n  crow-fly init\n  crow-fly init --default pl --locale en")]
pub(crate) struct InitArguments {
    /// The default locale: the language in which texts are written first
    #[arg(long, value_name = "TAG", default_value = "en")]
    pub(crate) default: String,

    /// The second locale; `de` if not given, or `en` where `de` is the default
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Option<String>,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly add-locale de --write")]
pub(crate) struct AddLocaleArguments {
    /// The language tag of the locale
    #[arg(value_name = "TAG")]
    pub(crate) tag: String,

    /// Write the files; without it they are only listed
    #[arg(long)]
    pub(crate) write: bool,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly gather --write")]
pub(crate) struct GatherArguments {
    /// Write the texts; without it they are only shown
    #[arg(long)]
    pub(crate) write: bool,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly rename home.title home.heading --write")]
pub(crate) struct RenameArguments {
    /// The key as it is: `section.name`
    #[arg(value_name = "KEY")]
    pub(crate) old: String,

    /// The new key
    #[arg(value_name = "NEW")]
    pub(crate) new: String,

    /// Change the files; without it the changes are only shown
    #[arg(long)]
    pub(crate) write: bool,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly coverage --locale pl\n  crow-fly coverage --format html > coverage.html"
)]
pub(crate) struct CoverageArguments {
    /// Only these locales, section by section; may be given again
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Vec<String>,

    /// Show the sections of every locale
    #[arg(long)]
    pub(crate) sections: bool,

    /// The form of the output
    #[arg(long, value_name = "FORMAT", value_enum, default_value = "text")]
    pub(crate) format: CoverageFormat,
}

/// The forms of a report of coverage.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub(crate) enum CoverageFormat {
    /// A table
    Text,
    /// A page for the browser, with every text that is left to do
    Html,
    /// For programs
    Json,
}

/// How far a translation is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, ValueEnum, serde::Serialize)]
#[serde(rename_all = "lowercase")]
pub(crate) enum State {
    /// No translation yet
    #[default]
    Untranslated,
    /// The source text has changed after the translation
    Stale,
    /// Translated, and up to date
    Translated,
}

impl State {
    pub(crate) const fn name(self) -> &'static str {
        match self {
            Self::Untranslated => "untranslated",
            Self::Stale => "stale",
            Self::Translated => "translated",
        }
    }
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly export pl.xlf --locale pl\n  crow-fly export pl.csv --locale pl --only untranslated,stale"
)]
pub(crate) struct ExportArguments {
    /// The file to write: `.xlf` is XLIFF 2.1, `.csv` is a table
    #[arg(value_name = "FILE")]
    pub(crate) file: PathBuf,

    /// The locale to translate to
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: String,

    /// Replace the file if it exists
    #[arg(long)]
    pub(crate) overwrite: bool,

    /// Only texts in these states
    #[arg(long, value_name = "STATE", value_enum, value_delimiter = ',')]
    pub(crate) only: Vec<State>,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly import pl.xlf --write")]
pub(crate) struct ImportArguments {
    /// The file of `export`, with translations
    #[arg(value_name = "FILE")]
    pub(crate) file: PathBuf,

    /// Only texts that have these states in the file
    #[arg(long, value_name = "STATE", value_enum, value_delimiter = ',')]
    pub(crate) only: Vec<State>,

    /// Write the texts; without it the changes are only shown
    #[arg(long)]
    pub(crate) write: bool,

    /// Take the other messages when some are refused; without it one refused message stops everything
    #[arg(long)]
    pub(crate) skip_refused: bool,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly explain / --cookie cy --accept-language 'pl, en;q=0.5'\n  crow-fly explain / --accept-language 'en-AU, pl;q=0.8' --detail\n  crow-fly explain --requests requests.txt"
)]
pub(crate) struct ExplainArguments {
    #[command(flatten)]
    pub(crate) request: RequestArguments,

    /// With `--accept-language`: show each language range of the header, and its distance to every locale
    #[arg(long, requires = "accept_lines")]
    pub(crate) detail: bool,

    /// Explain each request of a file in one line. A line of the file is what you type after `crow-fly explain`; empty lines
    /// and lines that begin with `#` are passed over
    #[arg(long, value_name = "FILE", conflicts_with_all = ["url", "cookie", "time_zone", "session", "accept_lines", "visitor", "headers", "form", "method"])]
    pub(crate) requests: Option<PathBuf>,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

/// One request, described.
#[derive(Args)]
pub(crate) struct RequestArguments {
    /// The address: a path with its query, or a whole URL
    #[arg(value_name = "URL", default_value = "/")]
    pub(crate) url: String,

    /// The value of the cookie that remembers a choice
    #[arg(long, value_name = "VALUE")]
    pub(crate) cookie: Option<String>,

    /// The value of the cookie that names the visitor's time zone
    #[arg(long, value_name = "VALUE")]
    pub(crate) time_zone: Option<String>,

    /// What the session remembers; an empty value is a session that remembers nothing
    #[arg(long, value_name = "VALUE")]
    pub(crate) session: Option<String>,

    /// A line of the Accept-Language header; may be given again
    #[arg(long = "accept-language", value_name = "HEADER")]
    pub(crate) accept_lines: Vec<String>,

    /// The locale in the settings of a visitor who has signed in
    #[arg(long, value_name = "TAG")]
    pub(crate) visitor: Option<String>,

    /// Another header of the request; may be given again
    #[arg(long = "header", value_name = "NAME: VALUE")]
    pub(crate) headers: Vec<String>,

    /// The form that the visitor sends to the switch address
    #[arg(long, value_name = "FORM")]
    pub(crate) form: Option<String>,

    /// The method of the request
    #[arg(long, value_name = "METHOD", default_value = "GET")]
    pub(crate) method: String,
}

/// A line of a file of requests.
#[derive(Parser)]
#[command(no_binary_name = true, disable_help_flag = true)]
pub(crate) struct RequestLine {
    #[command(flatten)]
    pub(crate) request: RequestArguments,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly check --locale pl\n  crow-fly check --about missing-plural-form\n  crow-fly check --format sarif > check.sarif"
)]
pub(crate) struct CheckArguments {
    /// Only these locales; may be given again
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Vec<String>,

    /// Check the texts that the running application did not find: a file of `CrowFly::misses`
    #[arg(long, value_name = "FILE")]
    pub(crate) misses: Option<PathBuf>,

    /// Explain a rule, with an example, and check nothing; `all` lists the rules
    #[arg(long, value_name = "RULE")]
    pub(crate) about: Option<String>,

    /// Leave out the findings of a baseline: a file of `--write-baseline`
    #[arg(long, value_name = "FILE")]
    pub(crate) baseline: Option<PathBuf>,

    /// Write all findings to a baseline: an old project starts with it, and only new findings are shown from then on
    #[arg(long, value_name = "FILE", conflicts_with = "baseline")]
    pub(crate) write_baseline: Option<PathBuf>,

    /// Show changes that are safe to make: white space, entities, misspelled functions, a forgotten `$`
    #[arg(long)]
    pub(crate) fix: bool,

    /// With `--fix`: make these changes
    #[arg(long, requires = "fix")]
    pub(crate) write: bool,

    /// The least severity that gives exit status 1
    #[arg(long, value_name = "SEVERITY", value_enum, default_value_t = Least::Warning)]
    pub(crate) fail_on: Least,

    /// The form of the output
    #[arg(long, value_name = "FORMAT", value_enum, default_value = "text")]
    pub(crate) format: CheckFormat,
}

/// The forms of findings.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub(crate) enum CheckFormat {
    /// For people, with the line of each finding
    Text,
    /// One line each, for annotations of pull requests: `file:line:column: level: text`
    Lines,
    /// For programs
    Json,
    /// SARIF 2.1.0, for tools that collect findings
    Sarif,
}

#[derive(Clone, Copy, ValueEnum)]
pub(crate) enum Least {
    /// Errors only
    Error,
    /// Warnings and errors
    Warning,
    /// Everything
    Note,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly accept\n  crow-fly accept --locale pl sailing.form --write\n  crow-fly accept --all --write"
)]
pub(crate) struct AcceptArguments {
    /// These keys, and the keys below them; without a key the texts are only listed
    #[arg(value_name = "KEY")]
    pub(crate) keys: Vec<String>,

    /// All keys
    #[arg(long, conflicts_with = "keys")]
    pub(crate) all: bool,

    /// Write it down; without it the texts are only listed
    #[arg(long)]
    pub(crate) write: bool,

    /// Only these locales; may be given again
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Vec<String>,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly tag zh-HK")]
pub(crate) struct TagArguments {
    /// The tag; other spellings are understood: `pt_BR.UTF-8` is `pt-BR`
    #[arg(value_name = "TAG")]
    pub(crate) tag: String,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly release publish --store /srv/ferries/releases\n  crow-fly release activate 3f8a --store /srv/ferries/releases\n  crow-fly release compare active --store /srv/ferries/releases"
)]
#[command(disable_help_subcommand = true)]
pub(crate) struct ReleaseArguments {
    #[command(subcommand)]
    pub(crate) command: ReleaseCommand,
}

#[derive(Subcommand)]
pub(crate) enum ReleaseCommand {
    /// Publish the catalogs as a release; servers take it once it is activated
    Publish {
        #[command(flatten)]
        store: StoreArguments,

        /// Activate the release at once
        #[arg(long)]
        activate: bool,

        /// Check the catalogs as `crow-fly check` does, and publish nothing where it finds an error or a warning. Without it
        /// only what does not compile, and a locale without catalogs, are refused
        #[arg(long)]
        check: bool,
    },
    /// Activate a release: servers take it within seconds
    Activate {
        /// The release: the first digits of its id
        #[arg(value_name = "RELEASE")]
        release: String,

        #[command(flatten)]
        store: StoreArguments,
    },
    /// Activate the newest release that was active before, is whole, and was not rolled back from itself
    RollBack {
        /// Another release: the first digits of its id
        #[arg(value_name = "RELEASE")]
        release: Option<String>,

        #[command(flatten)]
        store: StoreArguments,
    },
    /// List the activations, the active one first, and the releases that were never activated
    List {
        #[command(flatten)]
        store: StoreArguments,
    },
    /// Show the files of a release; without a store, of the release that these catalogs would be
    Show {
        /// The release: the first digits of its id, or `active`
        #[arg(value_name = "RELEASE", requires = "store")]
        release: Option<String>,

        /// The store: a folder, or the URL of a bucket
        #[arg(long, value_name = "PLACE", requires = "release")]
        store: Option<String>,

        /// The form of the output
        #[arg(long, value_name = "FORMAT", value_enum, default_value = "text")]
        format: ShowFormat,
    },
    /// Compare a release with another one, or with the catalogs of this application
    Compare {
        /// The earlier release: the first digits of its id, or `active`
        #[arg(value_name = "RELEASE")]
        release: String,

        /// The later release; the catalogs of this application if not given
        #[arg(value_name = "OTHER")]
        other: Option<String>,

        #[command(flatten)]
        store: StoreArguments,
    },
    /// Delete old releases, and the files that only they have
    Clean {
        #[command(flatten)]
        store: StoreArguments,

        /// Keep the releases of this many activations, counted from the newest one
        #[arg(long, value_name = "COUNT", default_value_t = 10)]
        keep: usize,
    },
}

/// The forms of a release.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub(crate) enum ShowFormat {
    /// A table of files
    Text,
    /// For programs
    Json,
    /// The manifest, byte by byte: for a web server that has the catalogs as files
    Manifest,
}

#[derive(Args)]
pub(crate) struct StoreArguments {
    /// The store: a folder, or the URL of a bucket: `s3://ferries/releases`. Buckets need the feature `buckets` of this
    /// program
    #[arg(long, value_name = "PLACE")]
    pub(crate) store: String,

    #[command(flatten)]
    pub(crate) format: FormatArguments,
}

fn name_and_value(text: &str) -> Result<(String, String), String> {
    let (name, value) = text.split_once('=').ok_or("write NAME=VALUE")?;
    if name.is_empty() {
        return Err("the name before `=` is missing".to_owned());
    }
    Ok((name.to_owned(), value.to_owned()))
}
