//! From data model to program: one arena of text, flat lists of operations.

use alloc::boxed::Box;
use alloc::string::String;
use alloc::vec::Vec;

use super::model::{
    Body, DeclarationKind, Element, Expression, Key, Markup, MarkupKind, Message, Operand, Pattern, Setting,
};
use super::number_function::NumberOptions;
use crate::direction::Direction;
use crate::number::{Category, Decimal};

/// A message made ready: formatting it touches nothing but this and the arguments.
#[derive(Clone, Debug)]
pub struct Program {
    /// All texts: of patterns, of literals, names, fallbacks.
    pub(super) text: Box<str>,
    pub(super) operations: Box<[Operation]>,
    pub(super) places: Box<[Place]>,
    pub(super) tags: Box<[Tag]>,
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
    Text,
    Number(Box<NumberCall>),
    Unknown,
}

#[derive(Clone, Debug)]
pub(super) struct NumberCall {
    pub(super) integer: bool,
    pub(super) options: NumberOptions,
    /// Options whose value is a variable: name and value.
    pub(super) variable: Box<[(Run, Source)]>,
    /// Options that cannot be used, by name.
    pub(super) bad: Box<[Run]>,
}

#[derive(Clone, Debug)]
pub(super) enum KeyTest {
    Any,
    Literal { text: Run, number: Option<Box<Decimal>>, category: Option<Category> },
}

#[derive(Clone, Copy, Debug)]
pub(super) struct Tag {
    pub(super) kind: MarkupKind,
    pub(super) name: Run,
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
    /// It says nothing about it.
    Any,
}

impl Program {
    /// The functions messages can use.
    pub const FUNCTIONS: [&str; 3] = ["string", "number", "integer"];

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
        self.tags.push(Tag { kind: markup.kind, name });
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
            Some("number" | "integer") => ParameterKind::Number,
            Some("string") => ParameterKind::Text,
            _ => ParameterKind::Any,
        };
        let operand = match &expression.operand {
            None => Source::Nothing,
            Some(Operand::Literal(text)) => Source::Literal(self.put(text)),
            Some(Operand::Variable(name)) if own == Some(name.as_str()) => self.argument(name, kind),
            Some(Operand::Variable(name)) => self.variable(name, kind),
        };
        let mut direction = None;
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
                        // `u:id` names the placeholder for tools and changes nothing.
                        ("u:id", _) => {}
                        _ => own_options.push(option),
                    }
                }
                match function.name.as_str() {
                    "string" => Call::Text,
                    "number" => self.number(false, &own_options),
                    "integer" => self.number(true, &own_options),
                    _ => Call::Unknown,
                }
            }
        };
        self.places.push(Place { operand, call, direction, fallback });
        index(self.places.len() - 1)
    }

    fn number(&mut self, integer: bool, settings: &[&Setting]) -> Call {
        let mut options = NumberOptions::default();
        let (mut variable, mut bad) = (Vec::new(), Vec::new());
        for setting in settings {
            match &setting.value {
                Operand::Literal(value) => {
                    if options.set(&setting.name, value).is_err() {
                        bad.push(self.put(&setting.name));
                    }
                }
                Operand::Variable(value) => {
                    let name = self.put(&setting.name);
                    if options.take_variable(&setting.name) {
                        let value = self.variable(value, ParameterKind::Any);
                        variable.push((name, value));
                    } else {
                        bad.push(name);
                    }
                }
            }
        }
        Call::Number(Box::new(NumberCall { integer, options, variable: variable.into(), bad: bad.into() }))
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
            Key::Literal(text) => KeyTest::Literal {
                text: self.put(text),
                number: Decimal::parse(text).ok().map(Box::new),
                category: Category::from_keyword(text),
            },
        }
    }
}
