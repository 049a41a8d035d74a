//! All rules of checks: what each is called, how much it matters, and what it is about.

use core::fmt;

/// What a rule is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Family {
    /// Files, folders, sections and keys.
    Project,
    /// What a message is written like.
    Syntax,
    /// A message by itself, in its language.
    Message,
    /// A message, compared with the default locale's.
    Reference,
    /// What could do harm, or shows as something else.
    Safety,
    /// Keys in code and templates.
    Code,
    /// What has changed since it was accepted.
    History,
}

impl Family {
    /// All families, in the order of the documentation.
    pub const ALL: &'static [Self] = &[
        Self::Project,
        Self::Syntax,
        Self::Message,
        Self::Reference,
        Self::Safety,
        Self::Code,
        Self::History,
    ];

    /// Its name, for people.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Project => "Files, sections and keys",
            Self::Syntax => "How messages are written",
            Self::Message => "A message in its language",
            Self::Reference => "Beside the default locale",
            Self::Safety => "Safety",
            Self::Code => "Keys in code",
            Self::History => "History",
        }
    }
}

macro_rules! rules {
    ($($variant:ident $id:literal $severity:ident $family:ident $summary:literal $about:literal $wrong:literal $right:literal;)*) => {
        /// A rule that catalogs are checked by.
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        #[non_exhaustive]
        pub enum Rule {
            $(#[doc = $summary] $variant,)*
        }

        impl Rule {
            /// All rules.
            pub const ALL: &'static [Self] = &[$(Self::$variant),*];

            const fn row(self) -> Row {
                match self {
                    $(Self::$variant => Row {
                        id: $id,
                        severity: Severity::$severity,
                        family: Family::$family,
                        summary: $summary,
                        about: $about,
                        wrong: $wrong,
                        right: $right,
                    },)*
                }
            }
        }
    };
}

/// The description of a rule.
struct Row {
    id: &'static str,
    severity: Severity,
    family: Family,
    summary: &'static str,
    about: &'static str,
    wrong: &'static str,
    right: &'static str,
}

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Severity {
    /// Good to know.
    Note,
    /// Visitors may see something odd.
    Warning,
    /// Visitors will see something wrong, or a fallback.
    Error,
}

impl fmt::Display for Severity {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Note => "note",
            Self::Warning => "warning",
            Self::Error => "error",
        })
    }
}

impl Rule {
    /// Its stable name: `missing-key`.
    pub const fn id(self) -> &'static str {
        self.row().id
    }

    /// How much it matters, by default.
    pub const fn severity(self) -> Severity {
        self.row().severity
    }

    /// What it is about.
    pub const fn family(self) -> Family {
        self.row().family
    }

    /// What is found, in one line.
    pub const fn summary(self) -> &'static str {
        self.row().summary
    }

    /// Why it matters, and what to do.
    pub const fn about(self) -> &'static str {
        self.row().about
    }

    /// An example that breaks the rule; empty if there is none.
    pub const fn wrong(self) -> &'static str {
        self.row().wrong
    }

    /// The same example, corrected.
    pub const fn right(self) -> &'static str {
        self.row().right
    }

    /// Where a finding that is meant is allowed, beside `[check.rules]`, if anywhere.
    pub fn allowed_by(self) -> Option<&'static str> {
        Some(match self {
            Self::MissingKey
            | Self::SurplusKey
            | Self::GroupForKey
            | Self::Mojibake
            | Self::ReplacementCharacter => Self::NOTE,
            Self::MissingSection | Self::AbsentLocale => {
                "`inherits` of `[catalogs]` for a locale, `may-fall-back` for a section"
            }
            Self::UnreadCode | Self::UnknownKey | Self::KeyLikeText | Self::UnusedKey => {
                "`keys` of `[check]`"
            }
            Self::UnknownFunction => "`functions` of `[check]`",
            Self::UnknownMarkup => "`markup` of `[check]`",
            Self::StaleTranslation => "`crow-fly accept KEY --write`",
            _ if matches!(
                self.family(),
                Family::Syntax | Family::Message | Family::Reference | Family::Safety
            ) =>
            {
                Self::NOTE
            }
            _ => return None,
        })
    }

    /// What allows one message to break a rule.
    pub const NOTE: &str = "a comment above the message";

    /// The rule of a name.
    pub fn named(id: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|rule| rule.id() == id)
    }
}

impl fmt::Display for Rule {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.id())
    }
}

impl serde::Serialize for Rule {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.id())
    }
}

rules! {
    AbsentLocale "absent-locale" Error Project
        "a locale has no catalogs at all"
        "Every text of it falls back. Either its folder has another name, or the locale is meant to have only the texts of its chain: then name it in `inherits` of `[catalogs]`."
        "catalogs/en/, catalogs/fr-FR/ for the locale `fr`" "catalogs/en/, catalogs/fr/";
    UnreadableSource "unreadable-source" Error Project
        "the catalogs cannot be listed"
        "The server goes on with what it has, and tries again."
        "" "";
    UnreadableFile "unreadable-file" Error Project
        "a file cannot be read"
        "The section is missing until it can be. Only regular files are read."
        "" "";
    UnreadableFolder "unreadable-folder" Error Project
        "a folder cannot be read"
        "All sections of the locale are missing until it can be."
        "" "";
    UnknownFolder "unknown-folder" Warning Project
        "a folder is not that of a locale"
        "Nothing in it is read. Its name may be misspelled, in other case, or that of a locale that the configuration does not have."
        "catalogs/en_GB/" "catalogs/en-GB/";
    UnknownFile "unknown-file" Warning Project
        "a file is not that of a locale"
        "It is not read. Its name may be misspelled, or that of a locale that the configuration does not have."
        "catalogs/engl.toml" "catalogs/en.toml";
    OtherFile "other-file" Note Project
        "a file is not a catalog"
        "Catalogs end in `.toml` or `.json`. Other files are left alone."
        "" "";
    SectionName "section-name" Error Project
        "the name of a file cannot name a section"
        "It is not read. Sections are named by ASCII letters, digits, `-` and `_`."
        "home page.toml" "home-page.toml";
    DuplicateSection "duplicate-section" Error Project
        "a section has two files"
        "Only one of the two is read."
        "en/home.toml and en/home.json" "en/home.toml";
    UnknownSection "unknown-section" Error Project
        "the configuration names a section that no locale has"
        "Pages wait for it in vain. Its name may be misspelled."
        "eager = [\"comon\"]" "eager = [\"common\"]";
    Configuration "configuration" Error Project
        "the configuration has a mistake"
        "The application does not start with it, and nothing else can be checked."
        "sources = [\"path\", \"cokie\"]"
        "sources = [\"path\", \"cookie\"]";
    MissedKey "missed-key" Warning Project
        "the running application asked for a message that no catalog has"
        "A visitor saw the key, or a text in code."
        "" "";
    RefusedRelease "refused-release" Error Project
        "a server does not take the active release"
        "It is damaged, incomplete, or needs what the program lacks. The release before stays in use."
        "" "";
    UnreachableReleases "unreachable-releases" Error Project
        "the store of releases cannot be reached"
        "The server goes on with the release it has."
        "" "";
    OddReleases "odd-releases" Warning Project
        "something about the store of releases, or the cache, is not as it should be"
        "Texts reach visitors all the same. The store was restored, something lies among the activations, or others can write in the cache."
        "" "";
    MoreFindings "more-findings" Note Project
        "a file has more findings than are shown"
        "A hundred of a file are shown."
        "" "";
    FileSyntax "file-syntax" Error Project
        "a file is not well-formed"
        "Messages after the mistake may be missing."
        "title = Ferries" "title = \"Ferries\"";
    KeyName "key-name" Error Project
        "a key has characters that keys cannot have"
        "The message cannot be asked for."
        "\"seats left\" = \"…\"" "seats-left = \"…\"";
    NotText "not-text" Error Project
        "a value is not a text"
        "A message is a text in quotes."
        "seats = 7" "seats = \"7\"";
    TooLarge "too-large" Error Project
        "a file is larger than is read"
        "8 MB of a file are read."
        "" "";
    Encoding "encoding" Error Project
        "a file is not UTF-8"
        "Nothing of it is read. Save it as UTF-8."
        "" "";
    DuplicateKey "duplicate-key" Error Project
        "two messages have the same key"
        "In TOML the first one counts, in JSON the last one."
        "title = \"A\"\ntitle = \"B\"" "title = \"A\"\nname = \"B\"";
    KeyAndGroup "key-and-group" Error Project
        "a key is a message and a group of messages"
        "One of the two cannot be reached."
        "{ \"seats\": \"…\", \"seats.left\": \"…\" }" "{ \"seats.title\": \"…\", \"seats.left\": \"…\" }";
    CrowdedKeys "crowded-keys" Error Project
        "too many keys have one hash"
        "Keys get one hash only where they are made for it, to make a program slow. The ones past 64 are left out."
        "" "";
    TooDeep "too-deep" Error Project
        "groups are nested too deeply, or a key is too long"
        "A key may have 32 names and 256 bytes, those of its groups included. What has more is not read."
        "" "";
    NoSection "no-section" Error Project
        "a message is outside of a section"
        "In a file with all sections of a locale, the first tables are the sections."
        "title = \"…\"" "[home] title = \"…\"";
    EmptyFile "empty-file" Warning Project
        "a file has no messages"
        "All of its texts fall back. It may have been emptied by mistake."
        "" "";
    MergeMarker "merge-marker" Error Project
        "a file has the marks of a merge"
        "Two versions were not merged to the end."
        "<<<<<<< main" "one of the two versions";
    UnknownRule "unknown-rule" Warning Project
        "the note of a message allows a rule that does not exist"
        "Its name may be misspelled: nothing is allowed."
        "# allow: unsafe-adress" "# allow: unsafe-address";
    ByteOrderMark "byte-order-mark" Note Project
        "a file begins with a byte-order mark"
        "It is skipped here, and trips other tools. Save the file as UTF-8 without it."
        "" "";
    Mojibake "mojibake" Error Project
        "a text was read in another encoding than it was written in"
        "Visitors see odd letters in place of accented ones."
        "title = \"CafÃ©\"" "title = \"Café\"";
    ReplacementCharacter "replacement-character" Error Project
        "a text has the character that stands for a lost one"
        "A letter was lost when the file was converted."
        "title = \"Caf\u{fffd}\"" "title = \"Café\"";
    MissingSection "missing-section" Warning Project
        "a section of the default locale is not there"
        "Its texts fall back."
        "" "";
    SurplusSection "surplus-section" Warning Project
        "the default locale has no such section"
        "Nothing asks for it. Its name may be misspelled, or in other case."
        "" "";
    MissingKey "missing-key" Warning Project
        "a message of the default locale is not there"
        "Its text falls back."
        "# nothing" "title = \"Promy\"";
    SurplusKey "surplus-key" Warning Project
        "the default locale has no such message"
        "Nothing asks for it. Its key may be misspelled, or in other case."
        "Title = \"Promy\"" "title = \"Promy\"";
    GroupForKey "group-for-key" Error Project
        "a key is a message here and a group in the default locale, or the other way round"
        "What the application asks for is not found."
        "[title]\ntext = \"Promy\"" "title = \"Promy\"";
    TooLong "too-long" Error Syntax
        "the message is too long"
        "A message has 64 kB at most. Split it into several messages."
        "" "";
    RepeatedText "repeated-text" Error Syntax
        "a pattern shows too much of the message's own `.local` texts"
        "What it shows of them has 64 kB at most: a short message could make a text of many megabytes. Show them fewer times."
        "" "";
    NullCharacter "null-character" Error Syntax
        "a message has a NUL character"
        "Delete it."
        "" "";
    LoneBrace "lone-brace" Error Syntax
        "a `}` closes nothing"
        "Write `\\}` where the brace is text."
        "One } two" "One \\} two";
    BadEscape "bad-escape" Error Syntax
        "a backslash is followed by a character that cannot be escaped"
        "Only `\\`, `{`, `|` and `}` can."
        "C:\\new" "C:\\\\new";
    UnclosedPlaceholder "unclosed-placeholder" Error Syntax
        "a placeholder is not closed"
        "Close it with `}`."
        "Hello, {$name" "Hello, {$name}";
    EmptyPlaceholder "empty-placeholder" Error Syntax
        "a placeholder is empty"
        "Name a variable in it."
        "Hello, {}" "Hello, {$name}";
    UnclosedLiteral "unclosed-literal" Error Syntax
        "a quoted literal is not closed"
        "Close it with `|`."
        "{|Ferries}" "{|Ferries|}";
    ExpectedName "expected-name" Error Syntax
        "a name is missing"
        "Write one: a letter, or `_`, first."
        "Hello, {$}" "Hello, {$name}";
    ExpectedVariable "expected-variable" Error Syntax
        "a variable is missing"
        "Declarations and selectors name variables."
        ".input {name}" ".input {$name}";
    ExpectedValue "expected-value" Error Syntax
        "a value is missing after `=`"
        "Write a literal or a variable."
        "{$n :number select=}" "{$n :number select=ordinal}";
    ExpectedEquals "expected-equals" Error Syntax
        "an `=` is missing"
        "Options are written `name=value`."
        "{$n :number select}" "{$n :number select=ordinal}";
    ExpectedExpression "expected-expression" Error Syntax
        "an expression in braces is missing"
        "A declaration has one."
        ".local $x = 3" ".local $x = {3}";
    MissingSpace "missing-space" Error Syntax
        "white space is missing"
        "Put a space between the parts."
        "{$n:number}" "{$n :number}";
    MisplacedOption "misplaced-option" Error Syntax
        "an option comes after an attribute"
        "Put options before attributes."
        "{$n :number @note select=exact}" "{$n :number select=exact @note}";
    OptionWithoutFunction "option-without-function" Error Syntax
        "an option has no function"
        "Name the function before it."
        "{$n select=exact}" "{$n :number select=exact}";
    MisplacedFunction "misplaced-function" Error Syntax
        "an expression has two functions"
        "Apply one in a declaration."
        "{$n :number :string}" "{$n :number}";
    UnexpectedCharacter "unexpected-character" Error Syntax
        "a character is not allowed there"
        "See what a placeholder can contain."
        "{$n ?}" "{$n}";
    UnknownKeyword "unknown-keyword" Error Syntax
        "a message begins with a full stop, and is not a declaration"
        "Put the text in `{{…}}` where the full stop is text."
        ".com" "{{.com}}";
    MissingBody "missing-body" Error Syntax
        "there is no pattern after the declarations"
        "Add a pattern or `.match`."
        ".input {$n :number}" ".input {$n :number} {{{$n}}}";
    UnclosedPattern "unclosed-pattern" Error Syntax
        "a pattern is not closed"
        "Close it with `}}`."
        "{{Hello" "{{Hello}}";
    TrailingContent "trailing-content" Error Syntax
        "there is text after the end of the message"
        "Put all text into the pattern."
        "{{Hello}} there" "{{Hello there}}";
    ExpectedVariant "expected-variant" Error Syntax
        "`.match` has no variants"
        "Add one for each form, and `*`."
        ".input {$n :number} .match $n" "… .match $n * {{{$n}}}";
    ExpectedKey "expected-key" Error Syntax
        "a key is missing"
        "Each variant has a key for each selector."
        ".match $n {{One}}" ".match $n one {{One}} * {{More}}";
    ExpectedPattern "expected-pattern" Error Syntax
        "a variant has no pattern"
        "Add it after the keys."
        ".match $n one * {{More}}" ".match $n one {{One}} * {{More}}";
    VariantKeyMismatch "variant-key-mismatch" Error Syntax
        "a variant has more or fewer keys than there are selectors"
        "Give it one key for each."
        ".match $n one two {{…}}" ".match $n one {{…}}";
    MissingFallbackVariant "missing-fallback-variant" Error Syntax
        "no variant fits all that is left"
        "Add one whose keys are all `*`."
        ".match $n one {{One}}" ".match $n one {{One}} * {{More}}";
    MissingSelectorAnnotation "missing-selector-annotation" Error Syntax
        "a selector has no function"
        "Declare how it selects."
        ".match $n …" ".input {$n :number} .match $n …";
    DuplicateDeclaration "duplicate-declaration" Error Syntax
        "a variable is declared twice, or used before"
        "Each variable is declared once, before it is used."
        ".input {$n :number} .input {$n :number} …" ".input {$n :number} …";
    DuplicateOptionName "duplicate-option-name" Error Syntax
        "an option is given twice"
        "Delete one of the two."
        "{$n :number select=exact select=plural}" "{$n :number select=exact}";
    DuplicateVariant "duplicate-variant" Error Syntax
        "two variants have the same keys"
        "The second is never used."
        "one {{A}} one {{B}}" "one {{A}} few {{B}}";
    UnknownFunction "unknown-function" Error Message
        "there is no such function"
        "The placeholder is shown in braces. Functions of the application are named in `functions` of `[check]`."
        "{$n :nunber}" "{$n :number}";
    WrongOption "wrong-option" Error Message
        "an option, or its value, does not exist"
        "It is left out when the text is made."
        "{$n :number select=ordnial}" "{$n :number select=ordinal}";
    NoCalendar "no-calendar" Error Message
        "a calendar is not there, or does not have the day"
        "The date is shown in another calendar."
        "{|1500-01-01| :date calendar=persian}" "{|1500-01-01| :date calendar=gregory}";
    BadVariantKey "bad-variant-key" Error Message
        "a key can never be selected"
        "Nobody ever reads the variant."
        "singular {{…}} * {{…}}" "one {{…}} * {{…}}";
    MissingPluralForm "missing-plural-form" Warning Message
        "the language has a form that the text lacks"
        "For some numbers the text is wrong."
        "Polish: one {{…}} * {{…}}" "one {{…}} few {{…}} many {{…}} * {{…}}";
    UnusedPluralForm "unused-plural-form" Warning Message
        "the text has a form that the language lacks"
        "Nobody ever reads the variant."
        "English: few {{…}}" "English: one {{…}} * {{…}}";
    MissingSelection "missing-selection" Warning Message
        "the default locale selects by an argument, and this text shows the argument without selecting"
        "For some numbers the text is wrong, or readers see a word of the program. A language with one form needs no selection by number."
        "Polish: {$n} miejsca" ".input {$n :integer} .match $n one {{{$n} miejsce}} …";
    HiddenNumber "hidden-number" Warning Message
        "a form that many numbers have does not show the number"
        "`one` is not only 1 in every language: in Russian it is 21 and 31, too."
        "Russian: one {{Одно место}}" "Russian: one {{{$n} место}}";
    WordInBraces "word-in-braces" Error Message
        "a word is in braces that is written like a variable"
        "Without `$` the word itself is shown."
        "Hello, {name}" "Hello, {$name}";
    MissingParameter "missing-parameter" Warning Reference
        "a parameter of the default locale is not used"
        "The reader misses that part."
        "Pozdrawiamy!" "Pozdrawiamy, {$name}!";
    SurplusParameter "surplus-parameter" Error Reference
        "the default locale has no such parameter"
        "The application does not give it: its name is shown in braces."
        "Witaj, {$imie}!" "Witaj, {$name}!";
    ParameterKind "parameter-kind" Warning Reference
        "a parameter is of another kind than in the default locale"
        "What the application gives does not go with the function."
        "{$name :number}" "{$name}";
    OtherFunction "other-function" Warning Reference
        "a parameter is formatted by another function than in the default locale"
        "The reader sees it in another way: a fraction, a percent sign, a date."
        "{$n :percent}" "{$n :number}";
    OtherOption "other-option" Warning Reference
        "an option that changes the meaning differs from the default locale"
        "It is another currency, unit or field: the text means something else."
        "{$fare :currency currency=USD}" "{$fare :currency currency=EUR}";
    MissingSelectKey "missing-select-key" Warning Reference
        "a key of the default locale has no variant"
        "For that value the text of `*` is shown."
        "bus {{…}} * {{…}}" "bus {{…}} ferry {{…}} * {{…}}";
    SurplusSelectKey "surplus-select-key" Error Reference
        "the default locale has no such key"
        "The key may be translated: nobody ever reads the variant. Keys stay as they are."
        "prom {{…}} * {{…}}" "ferry {{…}} * {{…}}";
    MissingMarkup "missing-markup" Warning Reference
        "markup of the default locale is not there"
        "A link or an emphasis is lost."
        "Lies hier" "Lies {#link}hier{/link}";
    MissingMarkupOption "missing-markup-option" Warning Reference
        "an option of the default locale's markup is not there"
        "A link without its address leads nowhere."
        "{#a}hier{/a}" "{#a href=|/help|}hier{/a}";
    SurplusMarkup "surplus-markup" Warning Reference
        "the default locale has no such markup"
        "The application may not know it."
        "{#lnik}hier{/lnik}" "{#link}hier{/link}";
    UnbalancedMarkup "unbalanced-markup" Error Reference
        "markup is opened and not closed, or closed and not opened"
        "In HTML the rest of the text may be marked."
        "{#b}Sold out" "{#b}Sold out{/b}";
    CrossedMarkup "crossed-markup" Error Reference
        "markup is closed in a different order than it was opened"
        "HTML has no such nesting."
        "{#b}{#i}…{/b}{/i}" "{#b}{#i}…{/i}{/b}";
    Untranslated "untranslated" Note Reference
        "the text is the same as in the default locale"
        "It may have been forgotten. A name is the same in every language: say so with `allow`."
        "title = \"Book a crossing\"" "title = \"Zarezerwuj rejs\"";
    MarkedUntranslated "marked-untranslated" Note Reference
        "texts are marked as untranslated"
        "Until they are translated they fall back, as if they were not there. `crow-fly coverage` counts them."
        "# untranslated\ntitle = \"Ferries\"" "title = \"Promy\"";
    BlankText "blank-text" Warning Reference
        "the text is empty, or only white space"
        "The reader sees nothing where the default locale has a text."
        "title = \"\"" "title = \"Promy\"";
    WhiteSpace "white-space" Warning Reference
        "white space at the ends, a tab or a line break that the default locale does not have, or the other way round; or two spaces in a row"
        "Words run together with the text next to them, or are too far apart."
        "title = \"Promy \"" "title = \"Promy\"";
    EndMark "end-mark" Note Reference
        "the text ends with another mark than the default locale"
        "A question became a statement, or a colon is lost."
        "\"Name\" for \"Name:\"" "\"Imię:\" for \"Name:\"";
    LongerThanNoted "longer-than-noted" Warning Reference
        "the text is longer than its note allows"
        "It does not fit where it is shown. The note of the default locale has `max-length: 12`."
        "\"Przejdź do treści strony\"" "\"Do treści\"";
    OtherScript "other-script" Warning Reference
        "the text has letters of a script that its language is not written in, or only Latin words"
        "It may be of another language."
        "Polish: \"Паром\"" "Polish: \"Prom\"";
    LookAlike "look-alike" Error Reference
        "a word has a letter of another script that looks alike"
        "It cannot be found, or read aloud."
        "\"Prоm\" with a Cyrillic `о`" "\"Prom\"";
    ToDo "to-do" Warning Reference
        "the text has a mark of unfinished work"
        "Somebody meant to finish it later."
        "title = \"TODO\"" "title = \"Promy\"";
    UnsafeAddress "unsafe-address" Error Safety
        "a link leads to an address that could run a script"
        "The attribute is left out when the text is made."
        "{#a href=|javascript:x|}" "{#a href=|/trip|}";
    UnsafeAttribute "unsafe-attribute" Error Safety
        "markup has an attribute that is not let through"
        "It is left out when the text is made."
        "{#b onclick=x}" "{#b class=x}";
    UnknownMarkup "unknown-markup" Warning Safety
        "markup is not an element that is let through, nor the application's own"
        "It is left out when the text is made. Name what the application defines in `markup` of `[check]`."
        "{#script}" "{#b}";
    HtmlInText "html-in-text" Warning Safety
        "a text has HTML in it"
        "Texts are escaped: readers see the tags. Markup is written in braces."
        "<b>Sold out</b>" "{#b}Sold out{/b}";
    EntityInText "entity-in-text" Warning Safety
        "a text has an HTML entity in it"
        "Texts are escaped: readers see the entity. Write the character."
        "Fish &amp; chips" "Fish & chips";
    InvisibleCharacter "invisible-character" Warning Safety
        "a text has a character that nobody sees"
        "It may hide something, and breaks searches. Joiners are right in scripts that use them."
        "zero width space, soft hyphen at the end" "the text without it";
    DirectionCharacter "direction-character" Error Safety
        "a text has a character that overrides the direction of what follows"
        "It can turn the rest of a page around."
        "right-to-left override" "the text without it";
    OpenIsolate "open-isolate" Error Safety
        "a direction is begun in a text and not ended, or ended and not begun"
        "What follows the text on the page is turned around, too."
        "first strong isolate without its end" "both, or neither";
    OtherNotation "other-notation" Warning Safety
        "a text has a placeholder of another notation"
        "Readers see it unchanged."
        "Hello, %s" "Hello, {$name}";
    UnreadCode "unread-code" Warning Code
        "code is nested too deep to be read"
        "Keys below 128 brackets are not seen. Nest it less, or name the keys in `keys` of `[check]`."
        "" "";
    UnknownKey "unknown-key" Error Code
        "code asks for a message that no catalog has"
        "Visitors see the key."
        "t.text(\"home.titel\")" "t.text(\"home.title\")";
    MissingArgument "missing-argument" Error Code
        "code asks for a message without one of its arguments"
        "Visitors see its name in braces. Only names that can be read in the code are compared."
        "t.text(\"trip.thanks\")" "t.text((\"trip.thanks\", args! { name }))";
    SurplusArgument "surplus-argument" Warning Code
        "code gives a message an argument that it does not have"
        "It is shown nowhere. Its name may be misspelled."
        "t.text((\"trip.thanks\", args! { nmae }))" "t.text((\"trip.thanks\", args! { name }))";
    KeyLikeText "key-like-text" Note Code
        "a text in code has the form of a key that no catalog has"
        "It may be a misspelled key."
        "\"home.titel\"" "\"home.title\"";
    UnusedKey "unused-key" Note Code
        "nothing in the code asks for a message"
        "It may be left over. Keys that are made at run time are named in `keys` of `[check]`."
        "" "";
    StaleTranslation "stale-translation" Warning History
        "the default locale has changed since the translation was accepted"
        "Its meaning may have changed. Look at it, then run `crow-fly accept`."
        "" "";
}
