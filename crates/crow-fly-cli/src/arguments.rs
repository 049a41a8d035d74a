//! What can be typed.

use std::path::PathBuf;

use clap::{Args, Parser, Subcommand};

use crate::exchange::State;

/// Work on an application's languages: format its messages, explain its decisions, check its catalogs.
#[derive(Parser)]
#[command(name = "crow-fly", version, arg_required_else_help = true, max_term_width = 100)]
#[command(
    after_help = "Exit status: 0 all is well, 1 something was found, 2 the command could not be carried out."
)]
pub(crate) struct Arguments {
    #[command(subcommand)]
    pub(crate) command: Command,

    /// The application's configuration
    #[arg(long, global = true, value_name = "FILE", default_value = "crow-fly.toml")]
    pub(crate) config: PathBuf,

    /// Print JSON
    #[arg(long, global = true)]
    pub(crate) json: bool,
}

#[derive(Subcommand)]
pub(crate) enum Command {
    /// Format one message in a locale
    Say(SayArguments),
    /// Explain how a request's locale is decided, source by source
    Explain(ExplainArguments),
    /// Write a configuration and a first catalog
    Init(InitArguments),
    /// Add a locale: its files with the structure of the default locale, to be translated
    AddLocale(AddLocaleArguments),
    /// Gather default texts given in code, `say("…").or("…")`, into the default locale
    Gather(GatherArguments),
    /// Rename a message's key in all locales and in code
    Rename(RenameArguments),
    /// Write a Rust type for each message to a file, as a build script with `crow-fly-codegen` does
    Types(TypesArguments),
    /// Check all catalogs against the default locale
    Check(CheckArguments),
    /// Show how much of the default locale each locale has
    Coverage(CoverageArguments),
    /// Write the texts of a locale to a file for translators: XLIFF 2.1 or CSV
    Export(ExportArguments),
    /// Read translations back from such a file
    Import(ImportArguments),
    /// Mark translations as up to date with the default locale
    Accept(AcceptArguments),
    /// Make a locale for tests: accented and longer texts, or texts from right to left
    PseudoLocale(PseudoLocaleArguments),
    /// Show what is known of a language tag: its forms, names, chain and plural categories
    Tag(TagArguments),
    /// Show the language ranges of an Accept-Language header and their distance to every locale
    Header(HeaderArguments),
    /// Publish catalogs as releases in an object store; inspect, compare, activate, roll back, clean
    Release(ReleaseArguments),
    /// Print the completions of this command for a shell
    Completions(CompletionsArguments),
    /// Write the manual pages of this command to a folder
    Manual(ManualArguments),
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly types src/messages.rs\n  crow-fly types src/messages.rs --check"
)]
pub(crate) struct TypesArguments {
    /// The file, which is written where it is not as it should be
    #[arg(value_name = "FILE")]
    pub(crate) file: PathBuf,

    /// Write nothing, and fail where the file is not as it should be
    #[arg(long)]
    pub(crate) check: bool,
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
#[command(after_help = "Example:\n  crow-fly manual ~/.local/share/man/man1")]
pub(crate) struct ManualArguments {
    /// The folder, which is made where it is not there
    #[arg(value_name = "FOLDER")]
    pub(crate) folder: PathBuf,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly say sailing.seats-left --locale pl seats=3\n  crow-fly say sailing.departs --all time=2026-06-01T07:30:00Z boat=Curlew"
)]
pub(crate) struct SayArguments {
    /// The message's key: `section.name`
    pub(crate) key: String,

    /// Its arguments: numbers where they read as one, texts and dates otherwise. Lists and money are JSON: `["Holm",
    /// "Ness"]`, `{ "amount": "12.50", "currency": "EUR" }`. A number given for a date is Unix seconds
    #[arg(value_name = "NAME=VALUE", value_parser = name_and_value)]
    pub(crate) arguments: Vec<(String, String)>,

    /// The locale to format it in; the default locale if none is given
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Option<String>,

    /// Format it in all locales
    #[arg(long, short, conflicts_with = "locale")]
    pub(crate) all: bool,

    /// The time zone that the visitor has named
    #[arg(long, value_name = "ZONE")]
    pub(crate) time_zone: Option<String>,

    /// Format it as HTML
    #[arg(long)]
    pub(crate) html: bool,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly init --default en")]
pub(crate) struct InitArguments {
    /// The default locale: the language that texts are written in first
    #[arg(long, value_name = "TAG", default_value = "en")]
    pub(crate) default: String,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly add-locale de")]
pub(crate) struct AddLocaleArguments {
    /// The locale's language tag
    #[arg(value_name = "TAG")]
    pub(crate) tag: String,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly gather --write")]
pub(crate) struct GatherArguments {
    /// Write the texts; else they are only shown
    #[arg(long)]
    pub(crate) write: bool,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly rename home.title home.heading --write")]
pub(crate) struct RenameArguments {
    /// The key: `section.name`
    #[arg(value_name = "KEY")]
    pub(crate) old: String,

    /// What it is to be
    #[arg(value_name = "NEW")]
    pub(crate) new: String,

    /// Change the files; else the changes are only shown
    #[arg(long)]
    pub(crate) write: bool,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly coverage --locale pl\n  crow-fly coverage --html coverage.html"
)]
pub(crate) struct CoverageArguments {
    /// Only these locales, section by section
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Vec<String>,

    /// Show the sections of every locale
    #[arg(long)]
    pub(crate) sections: bool,

    /// Write a page for the browser, with every text that is left to do
    #[arg(long, value_name = "FILE")]
    pub(crate) html: Option<PathBuf>,
}

#[derive(Args)]
#[command(
    after_help = "Examples:\n  crow-fly export pl.xlf --locale pl\n  crow-fly export pl.csv --locale pl --only untranslated,stale"
)]
pub(crate) struct ExportArguments {
    /// The file to write: `.xlf` is XLIFF 2.1, `.csv` a table
    #[arg(value_name = "FILE")]
    pub(crate) file: PathBuf,

    /// The locale to translate to
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: String,

    /// Write over a file that is there
    #[arg(long)]
    pub(crate) overwrite: bool,

    /// Only texts in these states
    #[arg(long, value_name = "STATE", value_enum, value_delimiter = ',')]
    pub(crate) only: Vec<State>,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly import pl.xlf --write")]
pub(crate) struct ImportArguments {
    /// The file that `export` has written, with translations
    #[arg(value_name = "FILE")]
    pub(crate) file: PathBuf,

    /// Only texts that the file has in these states
    #[arg(long, value_name = "STATE", value_enum, value_delimiter = ',')]
    pub(crate) only: Vec<State>,

    /// Write the texts; else the changes are only shown
    #[arg(long)]
    pub(crate) write: bool,

    /// Leave out messages that are not taken, in place of writing nothing
    #[arg(long)]
    pub(crate) skip_refused: bool,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly pseudo-locale en-XA")]
pub(crate) struct PseudoLocaleArguments {
    /// `en-XA`: accented, longer by a third, in brackets. `ar-XB`: each word from right to left
    #[arg(value_name = "TAG")]
    pub(crate) tag: String,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly explain / --cookie cy --accept-language 'pl, en;q=0.5'")]
pub(crate) struct ExplainArguments {
    /// The request's address: a path with its query, or a whole URL
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

    /// The signed-in visitor's own setting
    #[arg(long, value_name = "TAG")]
    pub(crate) visitor: Option<String>,

    /// Another header of the request; may be given again
    #[arg(long = "header", value_name = "NAME: VALUE")]
    pub(crate) headers: Vec<String>,

    /// The form of a choice that is posted to the switch address
    #[arg(long, value_name = "FORM")]
    pub(crate) form: Option<String>,

    /// The request's method
    #[arg(long, value_name = "METHOD", default_value = "GET")]
    pub(crate) method: String,
}

#[derive(Args)]
#[command(
    after_help = "Example:\n  crow-fly check --locale pl\n  crow-fly check --about missing-plural-form"
)]
pub(crate) struct CheckArguments {
    /// Only these locales
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Vec<String>,

    /// Texts that the running application has asked for and not found: a file that `CrowFly::misses` has written
    #[arg(long, value_name = "FILE")]
    pub(crate) misses: Option<PathBuf>,

    /// Explain a rule, with an example, and check nothing
    #[arg(long, value_name = "RULE")]
    pub(crate) about: Option<String>,

    /// Leave out the findings of a baseline: a file that `--write-baseline` has written
    #[arg(long, value_name = "FILE")]
    pub(crate) baseline: Option<PathBuf>,

    /// Write all findings to a baseline, to start from
    #[arg(long, value_name = "FILE", conflicts_with = "baseline")]
    pub(crate) write_baseline: Option<PathBuf>,

    /// Show changes that need no judgement: white space, entities, misspelled functions, a forgotten `$`
    #[arg(long)]
    pub(crate) fix: bool,

    /// With `--fix`: write these changes
    #[arg(long, requires = "fix")]
    pub(crate) write: bool,

    /// Print SARIF 2.1.0, for other tools
    #[arg(long, conflicts_with = "json")]
    pub(crate) sarif: bool,

    /// What counts as found, for the exit status
    #[arg(long, value_name = "SEVERITY", value_enum, default_value_t = Least::Warning)]
    pub(crate) fail_on: Least,
}

#[derive(Clone, Copy, clap::ValueEnum)]
pub(crate) enum Least {
    /// Errors only
    Error,
    /// Warnings and errors
    Warning,
    /// Everything
    Note,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly accept --locale pl sailing.form")]
pub(crate) struct AcceptArguments {
    /// Only these keys, and those below them; all where none is named
    #[arg(value_name = "KEY")]
    pub(crate) keys: Vec<String>,

    /// Only these locales
    #[arg(long, short, value_name = "TAG")]
    pub(crate) locale: Vec<String>,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly tag zh-HK")]
pub(crate) struct TagArguments {
    /// The tag, read leniently: `pt_BR.UTF-8` is `pt-BR`
    #[arg(value_name = "TAG")]
    pub(crate) tag: String,
}

#[derive(Args)]
#[command(after_help = "Example:\n  crow-fly header 'en-AU, pl;q=0.8, *;q=0.1'")]
pub(crate) struct HeaderArguments {
    /// The header's value
    #[arg(value_name = "HEADER")]
    pub(crate) header: String,
}

#[derive(Args)]
#[command(
    after_help = "Example:\n  crow-fly release publish --store /srv/ferries/releases\n  crow-fly release activate 3f8a --store /srv/ferries/releases\n  crow-fly release compare active --store /srv/ferries/releases"
)]
pub(crate) struct ReleaseArguments {
    #[command(subcommand)]
    pub(crate) command: ReleaseCommand,
}

#[derive(Subcommand)]
pub(crate) enum ReleaseCommand {
    /// Publish the catalogs; servers do not take them before they are activated
    Publish {
        #[command(flatten)]
        store: StoreArguments,

        /// Activate the release at once
        #[arg(long)]
        activate: bool,
    },
    /// Activate a release: servers take it within seconds
    Activate {
        /// The release: the first digits of its id
        #[arg(value_name = "RELEASE")]
        release: String,

        #[command(flatten)]
        store: StoreArguments,
    },
    /// Activate the release that was active before the active one
    RollBack {
        #[command(flatten)]
        store: StoreArguments,
    },
    /// Show the activations, the active one first, and the releases that were never activated
    List {
        #[command(flatten)]
        store: StoreArguments,
    },
    /// Show what a release has: its files, by locale and section
    Inspect {
        /// The release: the first digits of its id, or `active`
        #[arg(value_name = "RELEASE")]
        release: String,

        #[command(flatten)]
        store: StoreArguments,
    },
    /// Show which messages differ between a release and another one, or the catalogs of this application
    Compare {
        /// The earlier release: the first digits of its id, or `active`
        #[arg(value_name = "RELEASE")]
        release: String,

        /// The later release; the application's catalogs where none is named
        #[arg(value_name = "OTHER")]
        other: Option<String>,

        #[command(flatten)]
        store: StoreArguments,
    },
    /// Delete releases that are not among the last activated ones, and the files that only they have
    Clean {
        #[command(flatten)]
        store: StoreArguments,

        /// How many activations keep their releases
        #[arg(long, value_name = "COUNT", default_value_t = 10)]
        keep: usize,
    },
    /// Print the manifest of the catalogs, for a web server that has them as files
    Manifest,
}

#[derive(Args)]
pub(crate) struct StoreArguments {
    /// The store: a folder, or the URL of a bucket: `s3://ferries/releases`. Buckets need the feature `buckets` of this
    /// program
    #[arg(long, value_name = "PLACE")]
    pub(crate) store: String,
}

fn name_and_value(text: &str) -> Result<(String, String), String> {
    let (name, value) = text.split_once('=').ok_or("write NAME=VALUE")?;
    if name.is_empty() {
        return Err("the name is missing before `=`".to_owned());
    }
    Ok((name.to_owned(), value.to_owned()))
}
