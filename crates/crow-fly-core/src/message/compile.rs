//! From data model to program: one arena of text, flat lists of operations.

use alloc::boxed::Box;
use alloc::string::String;
use alloc::vec::Vec;

use super::function::number::NumberOptions;
use super::function::words::WordKind;
use super::function::{Function as BuiltIn, Options};
use super::model::{
    Body, DeclarationKind, Element, Expression, Key, Markup, MarkupKind, Message, Operand, Pattern, Setting,
};
use crate::direction::Direction;
use crate::number::{Category, Decimal};
use crate::tag::LanguageTag;

/// A message made ready: formatting it touches nothing but this and the arguments.
#[derive(Clone, Debug)]
pub struct Program {
    /// All texts: of patterns, of literals, names, fallbacks.
    pub(super) text: Box<str>,
    pub(super) operations: Box<[Operation]>,
    pub(super) places: Box<[Place]>,
    pub(super) tags: Box<[Tag]>,
    /// Options of markup: name and value.
    pub(super) settings: Box<[(Run, Source)]>,
    /// Declared values, in order: each is a place.
    pub(super) declared: Box<[u32]>,
    pub(super) selectors: Box<[u32]>,
    /// The keys of all variants, row by row; none where there is one pattern.
    pub(super) keys: Box<[KeyTest]>,
    /// The operations of each pattern.
    pub(super) patterns: Box<[Run]>,
    parameters: Box<[Parameter]>,
}

/// A stretch of a list or of the arena.
pub(super) type Run = (u32, u32);

#[derive(Clone, Copy, Debug)]
pub(super) enum Operation {
    Text(Run),
    Place(u32),
    Tag(u32),
}

/// A value to be formatted.
#[derive(Clone, Debug)]
pub(super) struct Place {
    pub(super) operand: Source,
    pub(super) call: Call,
    /// `u:dir`.
    pub(super) direction: Option<Direction>,
    /// `u:id`.
    pub(super) id: Option<Run>,
    /// `u:locale`.
    pub(super) locale: Option<Box<LanguageTag>>,
    /// What stands for it where it cannot be formatted.
    pub(super) fallback: Run,
}

#[derive(Clone, Copy, Debug)]
pub(super) enum Source {
    Nothing,
    Literal(Run),
    Argument(Run),
    Declared(u32),
}

#[derive(Clone, Debug)]
pub(super) enum Call {
    /// No function: a value formats as what it is.
    Plain,
    BuiltIn(Box<BuiltInCall>),
    /// A function that only the application can know.
    Custom(Box<CustomCall>),
}

#[derive(Clone, Debug)]
pub(super) struct BuiltInCall {
    pub(super) function: BuiltIn,
    /// The options given by literals.
    pub(super) options: Options,
    /// Options whose value is a variable: name and value.
    pub(super) variable: Box<[(Run, Source)]>,
    /// Options that cannot be used, by name.
    pub(super) bad: Box<[Run]>,
    /// Where a range ends.
    pub(super) to: Option<Source>,
}

impl BuiltInCall {
    /// The options of a number function that has all it needs, and nothing wrong.
    pub(super) fn plain_number(&self) -> Option<&NumberOptions> {
        match &self.options {
            Options::Number(options)
                if self.variable.is_empty() && self.bad.is_empty() && options.is_complete() =>
            {
                Some(options)
            }
            _ => None,
        }
    }
}

#[derive(Clone, Debug)]
pub(super) struct CustomCall {
    pub(super) name: Run,
    pub(super) options: Box<[(Run, Source)]>,
}

#[derive(Clone, Debug)]
pub(super) enum KeyTest {
    Any,
    Literal {
        text: Run,
        number: Option<Box<Decimal>>,
        /// The number, where it is whole and of ordinary size.
        whole: Option<i64>,
        category: Option<Category>,
    },
}

#[derive(Clone, Copy, Debug)]
pub(super) struct Tag {
    pub(super) kind: MarkupKind,
    pub(super) name: Run,
    /// Its options: a stretch of the program's settings.
    pub(super) options: Run,
}

/// A parameter of a message: a variable the caller gives.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
pub struct Parameter {
    /// Its name, without `$`.
    pub name: Box<str>,
    /// What the message does with it.
    pub kind: ParameterKind,
}

/// What a message does with a parameter.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "lowercase")]
#[non_exhaustive]
pub enum ParameterKind {
    /// It formats or selects by it as a number.
    Number,
    /// It formats or selects by it as a text.
    Text,
    /// It formats it as a date or a time.
    Date,
    /// It joins it.
    List,
    /// It says nothing about it.
    Any,
}

impl Program {
    /// The functions every message can use.
    pub const FUNCTIONS: [&str; 15] = {
        let mut names = [""; 15];
        let mut at = 0;
        while at < names.len() {
            names[at] = BuiltIn::ALL[at].0;
            at += 1;
        }
        names
    };

    /// Compiles a message.
    pub fn compile(message: &Message) -> Self {
        let mut compiler = Compiler::default();
        for declaration in &message.declarations {
            let own = (declaration.kind == DeclarationKind::Input).then_some(declaration.name.as_str());
            let place = compiler.place(&declaration.value, own);
            compiler.declared.push(place);
            compiler.names.push(declaration.name.clone());
        }
        let (mut selectors, mut keys) = (Vec::new(), Vec::new());
        match &message.body {
            Body::Pattern(pattern) => compiler.pattern(pattern),
            Body::Match { selectors: variables, variants } => {
                for variable in variables {
                    if let Some(at) = compiler.names.iter().position(|name| *name == variable.name) {
                        selectors.push(index(at));
                    }
                }
                for variant in variants {
                    for key in &variant.keys {
                        keys.push(compiler.key(key));
                    }
                    compiler.pattern(&variant.pattern);
                }
            }
        }
        compiler.parameters.sort();
        // `Any` sorts last: it only stays where nothing more is known.
        compiler.parameters.dedup_by(|later, earlier| later.name == earlier.name);
        Self {
            text: compiler.text.into(),
            operations: compiler.operations.into(),
            places: compiler.places.into(),
            tags: compiler.tags.into(),
            settings: compiler.settings.into(),
            declared: compiler.declared.into(),
            selectors: selectors.into(),
            keys: keys.into(),
            patterns: compiler.patterns.into(),
            parameters: compiler.parameters.into(),
        }
    }

    /// The parameters the message asks for, sorted by name.
    pub fn parameters(&self) -> &[Parameter] {
        &self.parameters
    }

    pub(super) fn str(&self, run: Run) -> &str {
        self.text.get(run.0 as usize..run.1 as usize).unwrap_or_default()
    }
}

/// Lists of a message are bounded by its length, far below the bound of the type.
fn index(at: usize) -> u32 {
    u32::try_from(at).unwrap_or(u32::MAX)
}

#[derive(Default)]
struct Compiler {
    text: String,
    operations: Vec<Operation>,
    places: Vec<Place>,
    tags: Vec<Tag>,
    settings: Vec<(Run, Source)>,
    declared: Vec<u32>,
    /// The names of declared values, beside `declared`.
    names: Vec<String>,
    patterns: Vec<Run>,
    parameters: Vec<Parameter>,
}

impl Compiler {
    fn put(&mut self, text: &str) -> Run {
        let start = index(self.text.len());
        self.text.push_str(text);
        (start, index(self.text.len()))
    }

    fn pattern(&mut self, pattern: &Pattern) {
        let start = index(self.operations.len());
        for element in pattern {
            let operation = match element {
                Element::Text(text) => Operation::Text(self.put(text)),
                Element::Expression(expression) => Operation::Place(self.place(expression, None)),
                Element::Markup(markup) => Operation::Tag(self.tag(markup)),
            };
            self.operations.push(operation);
        }
        self.patterns.push((start, index(self.operations.len())));
    }

    fn tag(&mut self, markup: &Markup) -> u32 {
        let name = self.put(&markup.name);
        let start = index(self.settings.len());
        for option in &markup.options {
            let setting = self.setting(option);
            self.settings.push(setting);
        }
        self.tags.push(Tag { kind: markup.kind, name, options: (start, index(self.settings.len())) });
        index(self.tags.len() - 1)
    }

    /// Adds a place; `own` is the parameter that an `.input` declares, which is not yet a declared value.
    fn place(&mut self, expression: &Expression, own: Option<&str>) -> u32 {
        let fallback = match (&expression.operand, &expression.function) {
            (Some(Operand::Variable(name)), _) => alloc::format!("{{${name}}}"),
            (Some(Operand::Literal(text)), _) => {
                alloc::format!("{{|{}|}}", text.replace('\\', "\\\\").replace('|', "\\|"))
            }
            (None, Some(function)) => alloc::format!("{{:{}}}", function.name),
            (None, None) => String::new(),
        };
        let fallback = self.put(&fallback);
        let kind = match expression.function.as_ref().map(|function| function.name.as_str()) {
            Some(name) => BuiltIn::named(name).map_or(ParameterKind::Any, kind_of),
            None => ParameterKind::Any,
        };
        let operand = match &expression.operand {
            None => Source::Nothing,
            Some(Operand::Literal(text)) => Source::Literal(self.put(text)),
            Some(Operand::Variable(name)) if own == Some(name.as_str()) => self.argument(name, kind),
            Some(Operand::Variable(name)) => self.variable(name, kind),
        };
        let (mut direction, mut id, mut locale) = (None, None, None);
        let call = match &expression.function {
            None => Call::Plain,
            Some(function) => {
                let mut own_options: Vec<&Setting> = Vec::new();
                for option in &function.options {
                    match (option.name.as_str(), &option.value) {
                        ("u:dir", Operand::Literal(value)) if value == "ltr" => {
                            direction = Some(Direction::LeftToRight);
                        }
                        ("u:dir", Operand::Literal(value)) if value == "rtl" => {
                            direction = Some(Direction::RightToLeft);
                        }
                        ("u:dir", Operand::Literal(value)) if value == "auto" || value == "inherit" => {}
                        ("u:id", Operand::Literal(value)) => id = Some(self.put(value)),
                        ("u:locale", Operand::Literal(value)) if LanguageTag::parse(value).is_ok() => {
                            locale = LanguageTag::parse(value).ok().map(Box::new);
                        }
                        _ => own_options.push(option),
                    }
                }
                if let Some(built_in) = BuiltIn::named(&function.name) {
                    self.built_in(built_in, &own_options)
                } else {
                    let name = self.put(&function.name);
                    let options = own_options.iter().map(|option| self.setting(option)).collect();
                    Call::Custom(Box::new(CustomCall { name, options }))
                }
            }
        };
        self.places.push(Place { operand, call, direction, id, locale, fallback });
        index(self.places.len() - 1)
    }

    fn setting(&mut self, setting: &Setting) -> (Run, Source) {
        let name = self.put(&setting.name);
        let value = match &setting.value {
            Operand::Literal(value) => Source::Literal(self.put(value)),
            Operand::Variable(value) => self.variable(value, ParameterKind::Any),
        };
        (name, value)
    }

    fn built_in(&mut self, function: BuiltIn, settings: &[&Setting]) -> Call {
        let mut options = Options::of(function);
        let (mut variable, mut bad, mut to) = (Vec::new(), Vec::new(), None);
        for setting in settings {
            if function == BuiltIn::Range && setting.name == "to" {
                to = Some(self.setting(setting).1);
                continue;
            }
            match &setting.value {
                Operand::Literal(value) => {
                    if options.set(&setting.name, value).is_err() {
                        bad.push(self.put(&setting.name));
                    }
                }
                Operand::Variable(_) if options.take_variable(&setting.name) => {
                    let setting = self.setting(setting);
                    variable.push(setting);
                }
                Operand::Variable(_) => bad.push(self.put(&setting.name)),
            }
        }
        if let (BuiltIn::Integer, Options::Number(number)) = (function, &mut options) {
            *number = number.of_integer();
        }
        let (variable, bad) = (variable.into(), bad.into());
        Call::BuiltIn(Box::new(BuiltInCall { function, options, variable, bad, to }))
    }

    fn variable(&mut self, name: &str, kind: ParameterKind) -> Source {
        match self.names.iter().rposition(|declared| declared == name) {
            Some(at) => Source::Declared(index(at)),
            None => self.argument(name, kind),
        }
    }

    fn argument(&mut self, name: &str, kind: ParameterKind) -> Source {
        self.parameters.push(Parameter { name: name.into(), kind });
        Source::Argument(self.put(name))
    }

    fn key(&mut self, key: &Key) -> KeyTest {
        match key {
            Key::Any => KeyTest::Any,
            Key::Literal(text) => {
                let number = Decimal::parse(text).ok();
                KeyTest::Literal {
                    text: self.put(text),
                    whole: number.as_ref().and_then(Decimal::to_i64),
                    number: number.map(Box::new),
                    category: Category::from_keyword(text),
                }
            }
        }
    }
}

/// What a function does with its operand.
const fn kind_of(function: BuiltIn) -> ParameterKind {
    match function {
        BuiltIn::Text | BuiltIn::Words(WordKind::Name) => ParameterKind::Text,
        BuiltIn::Number(_) | BuiltIn::Integer | BuiltIn::Offset | BuiltIn::Words(WordKind::Relative) => {
            ParameterKind::Number
        }
        BuiltIn::Date(_) => ParameterKind::Date,
        BuiltIn::Words(WordKind::List) => ParameterKind::List,
        BuiltIn::Range => ParameterKind::Any,
    }
}
