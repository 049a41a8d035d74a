//! From data model to program.

use alloc::string::String;
use alloc::sync::Arc;
use alloc::vec::Vec;

use smallvec::SmallVec;

use super::error::MessageErrors;
use super::function::registry::BuiltIn;
use super::function::unicode;
use super::model::{self, Element, Expression, Function, Key, Markup, Message};
use super::program::{
    Arena, Body, BuiltInCall, Call, Index, KeyTest, Operand, Operation, Placeholder, Program, Routine,
    RuntimeOptions, Setting, Slice, Tag, UnicodeCall, VARIABLE,
};
use super::syntax::is_only_text;
use super::syntax::names::SmallMap;
use crate::number::{Category, Decimal};

impl Program {
    /// The functions every message can use.
    pub const FUNCTIONS: &'static [&'static str] = BuiltIn::NAMES;

    /// Compiles a message.
    pub fn compile(message: &Message) -> Self {
        let mut compiler = Compiler::default();
        let body = compiler.add(message);
        Self { arena: Arc::new(compiler.finish()), body }
    }
}

/// Lists of a catalog are bounded by its length, far below the bound of the type.
fn index(at: usize) -> u32 {
    u32::try_from(at).unwrap_or(u32::MAX)
}

/// The longest text or name of one operation, in bytes.
const LONGEST: usize = u16::MAX as usize;

/// The start and length of a slice; none of one that is longer than an operation has.
fn short(Slice { start, end }: Slice) -> Option<(u32, u16)> {
    Some((start, u16::try_from(end - start).ok()?))
}

/// Collects messages for one arena.
#[derive(Default)]
pub(crate) struct Compiler {
    text: String,
    routines: Vec<Routine>,
    operations: Vec<Operation>,
    placeholders: Vec<Placeholder>,
    calls: Vec<Call>,
    unicode: Vec<UnicodeCall>,
    tags: Vec<Tag>,
    settings: Vec<Setting>,
    selectors: Vec<u32>,
    keys: Vec<KeyTest>,
    written_keys: Vec<Slice>,
    patterns: Vec<Slice>,
}

/// How many of the last functions, or tags, are asked whether a new one is the same.
const REMEMBERED: usize = 32;

/// A list that needs no memory of its own while it is short.
type Few<T> = SmallVec<[T; 4]>;

/// The variables of a message, by name.
type Names<'m> = SmallMap<&'m str, Variable>;

/// What is known of a variable.
#[derive(Clone, Copy, Default)]
struct Variable {
    /// Which declared value it is; none for an argument.
    declared: Option<u32>,
    /// What stands for it, once that is written: `{$name}`.
    fallback: Option<Slice>,
    /// What formats it as it is, once that is written.
    plain: Option<Operation>,
}

/// Whether an element is a text, or a variable as it is: one operation.
fn is_plain(element: &Element) -> bool {
    let is_short = |text: &str| text.len() <= LONGEST;
    match element {
        Element::Text(text) => is_short(text),
        Element::Expression(expression) => {
            matches!(&expression.operand, Some(model::Operand::Variable(name)) if is_short(name))
                && expression.function.is_none()
        }
        Element::Markup(_) => false,
    }
}

impl Compiler {
    /// One with room for so many messages, and so many bytes of sources, as they usually are.
    pub(crate) fn with_room(messages: usize, bytes: usize) -> Self {
        Self {
            text: String::with_capacity(bytes),
            routines: Vec::with_capacity(messages),
            operations: Vec::with_capacity(messages * 4),
            placeholders: Vec::with_capacity(messages * 2),
            selectors: Vec::with_capacity(messages),
            keys: Vec::with_capacity(messages * 2),
            patterns: Vec::with_capacity(messages * 2),
            ..Self::default()
        }
    }

    /// Adds a message by its source. Plain texts, which most are, need no model.
    ///
    /// # Errors
    /// Those of the source.
    pub(crate) fn add_source(&mut self, source: &str) -> Result<Body, MessageErrors> {
        if is_only_text(source)
            && let Some(text) = self.only_text(source)
        {
            return Ok(text);
        }
        Ok(self.add(&Message::parse(source)?))
    }

    /// Adds a message.
    pub(crate) fn add(&mut self, message: &Message) -> Body {
        let mut names = Names::new();
        if let (model::Body::Pattern(pattern), []) = (&message.body, &*message.declarations) {
            if let [Element::Text(text)] = pattern.as_slice()
                && let Some(text) = self.only_text(text)
            {
                return text;
            }
            if pattern.len() <= LONGEST
                && pattern.iter().all(is_plain)
                && let Some((start, length)) = short(self.pattern(pattern, &mut names))
            {
                return Body::Plain { start, length };
            }
        }
        let declared = index(self.placeholders.len());
        for (at, declaration) in message.declarations.iter().enumerate() {
            let placeholder = self.placeholder(&declaration.value, &mut names);
            self.placeholders.push(placeholder);
            let variable = names.or_default(declaration.name.as_str());
            variable.declared = Some(index(at));
            variable.plain = None;
        }
        let declared = Slice { start: declared, end: index(self.placeholders.len()) };
        let (selectors, keys) = (index(self.selectors.len()), index(self.keys.len()));
        let patterns = index(self.patterns.len());
        match &message.body {
            model::Body::Pattern(pattern) => {
                let pattern = self.pattern(pattern, &mut names);
                self.patterns.push(pattern);
            }
            model::Body::Match { selectors: variables, variants } => {
                let declared = |variable: &model::Selector| names.get(variable.name.as_str())?.declared;
                self.selectors.extend(variables.iter().filter_map(declared));
                for variant in variants {
                    for key in &variant.keys {
                        let key = self.key(key);
                        self.keys.push(key);
                    }
                    let pattern = self.pattern(&variant.pattern, &mut names);
                    self.patterns.push(pattern);
                }
            }
        }
        let routine = Routine {
            declared,
            selectors: Slice { start: selectors, end: index(self.selectors.len()) },
            keys: Slice { start: keys, end: index(self.keys.len()) },
            patterns: Slice { start: patterns, end: index(self.patterns.len()) },
        };
        let at = index(self.routines.len());
        self.routines.push(routine);
        if self.is_plural(&routine) { Body::Plural(at) } else { Body::Routine(at) }
    }

    /// A message of one text; none where that is longer than any message that is parsed.
    fn only_text(&mut self, text: &str) -> Option<Body> {
        let length = u16::try_from(text.len()).ok()?;
        Some(Body::Text { start: self.put(text).start, length })
    }

    fn is_plural(&self, routine: &Routine) -> bool {
        let ([placeholder], [0]) =
            (routine.declared.of(&self.placeholders), routine.selectors.of(&self.selectors))
        else {
            return false;
        };
        let Some(Call::BuiltIn(call)) = placeholder.call.and_then(|at| at.of(&self.calls)) else {
            return false;
        };
        let counts = call.plain_number().is_some_and(|number| number.shows_integer() && number.selects());
        let shown = |operation: &Operation| match operation {
            Operation::Text { .. } | Operation::Argument { .. } => true,
            Operation::Placeholder(at) => self.placeholders.get(*at as usize).is_some_and(|placeholder| {
                placeholder.operand == Operand::Declared(0) && placeholder.call.is_none()
            }),
            Operation::Tag(_) => false,
        };
        let patterns = routine.patterns.of(&self.patterns);
        counts
            && matches!(placeholder.operand, Operand::Argument(_))
            && placeholder.unicode.is_none()
            // A key that no number takes is an error whenever the message is formatted.
            && !routine.keys.of(&self.keys).iter().any(|key| matches!(key, KeyTest::Text(_)))
            && patterns.iter().all(|pattern| pattern.of(&self.operations).iter().all(shown))
    }

    /// The arena of all that was added.
    pub(crate) fn finish(self) -> Arena {
        Arena {
            text: self.text.into(),
            routines: self.routines.into(),
            operations: self.operations.into(),
            placeholders: self.placeholders.into(),
            calls: self.calls.into(),
            unicode: self.unicode.into(),
            tags: self.tags.into(),
            settings: self.settings.into(),
            selectors: self.selectors.into(),
            keys: self.keys.into(),
            written_keys: self.written_keys.into(),
            patterns: self.patterns.into(),
        }
    }

    /// Adds a text.
    pub(crate) fn put(&mut self, text: &str) -> Slice {
        let start = index(self.text.len());
        self.text.push_str(text);
        Slice { start, end: index(self.text.len()) }
    }

    fn put_in(&mut self, before: &str, text: &str, behind: &str) -> Slice {
        let start = index(self.text.len());
        self.text.extend([before, text, behind]);
        Slice { start, end: index(self.text.len()) }
    }

    fn pattern<'m>(&mut self, pattern: &'m [Element], names: &mut Names<'m>) -> Slice {
        let start = index(self.operations.len());
        for element in pattern {
            match element {
                Element::Text(text) => self.text(text),
                Element::Expression(expression) => {
                    let operation = self.expression(expression, names);
                    self.operations.push(operation);
                }
                Element::Markup(markup) => {
                    let tag = self.tag(markup, names);
                    self.operations.push(Operation::Tag(tag));
                }
            }
        }
        Slice { start, end: index(self.operations.len()) }
    }

    /// Adds the operations of a text: one, unless a model that was not parsed has a text longer than any message.
    fn text(&mut self, text: &str) {
        let mut rest = text;
        while !rest.is_empty() {
            let end = (0..=rest.len().min(LONGEST)).rev().find(|end| rest.is_char_boundary(*end));
            let (piece, behind) = rest.split_at_checked(end.unwrap_or_default()).unwrap_or((rest, ""));
            let piece = short(self.put(piece));
            self.operations.extend(piece.map(|(start, length)| Operation::Text { start, length }));
            rest = behind;
        }
    }

    fn expression<'m>(&mut self, expression: &'m Expression, names: &mut Names<'m>) -> Operation {
        let plain = match (&expression.operand, &expression.function) {
            (Some(model::Operand::Variable(name)), None) => Some(name.as_str()),
            _ => None,
        };
        if let Some(known) = plain.and_then(|name| names.or_default(name).plain) {
            return known;
        }
        let placeholder = self.placeholder(expression, names);
        let argument = match (placeholder.operand, placeholder.call) {
            (Operand::Argument(name), None) => short(name),
            _ => None,
        };
        let operation = if let Some((start, length)) = argument {
            Operation::Argument { start, length }
        } else {
            self.placeholders.push(placeholder);
            Operation::Placeholder(index(self.placeholders.len() - 1))
        };
        if let Some(name) = plain {
            names.or_default(name).plain = Some(operation);
        }
        operation
    }

    fn tag<'m>(&mut self, markup: &'m Markup, names: &mut Names<'m>) -> u32 {
        let last = self.tags.len().saturating_sub(REMEMBERED);
        let is_same = |tag: &Tag| {
            let name = self.text.get(tag.name.start as usize..tag.name.end as usize);
            tag.kind == markup.kind && tag.options == Slice::default() && name == Some(&markup.name)
        };
        if markup.options.is_empty()
            && let Some(at) = self.tags.iter().skip(last).position(is_same)
        {
            return index(last + at);
        }
        let name = self.put(&markup.name);
        let options = self.settings(&markup.options, names);
        self.tags.push(Tag { kind: markup.kind, name, options });
        index(self.tags.len() - 1)
    }

    fn placeholder<'m>(&mut self, expression: &'m Expression, names: &mut Names<'m>) -> Placeholder {
        let (operand, fallback) = match &expression.operand {
            Some(model::Operand::Variable(name)) => self.variable(name, names),
            Some(model::Operand::Literal(text)) => self.literal(text),
            None => {
                let name = expression.function.as_ref().map_or("", |function| &function.name);
                (Operand::Nothing, self.put_in("{:", name, "}"))
            }
        };
        let (call, unicode) =
            expression.function.as_ref().map_or((None, None), |function| self.call(function, names));
        Placeholder { operand, fallback, call, unicode }
    }

    /// A variable, and what stands for it.
    fn variable<'m>(&mut self, name: &'m str, names: &mut Names<'m>) -> (Operand, Slice) {
        let variable = names.or_default(name);
        let fallback = *variable.fallback.get_or_insert_with(|| self.put_in("{$", name, "}"));
        (
            variable
                .declared
                .map_or(Operand::Argument(fallback.within(VARIABLE.0, VARIABLE.1)), Operand::Declared),
            fallback,
        )
    }

    /// A literal, and what stands for it: that has the literal in it, unless escapes come between.
    fn literal(&mut self, text: &str) -> (Operand, Slice) {
        if !text.contains(['\\', '|']) {
            let fallback = self.put_in("{|", text, "|}");
            return (Operand::Literal(fallback.within(2, 2)), fallback);
        }
        let literal = self.put(text);
        let escaped = text.replace('\\', "\\\\").replace('|', "\\|");
        (Operand::Literal(literal), self.put_in("{|", &escaped, "|}"))
    }

    /// A function, and the options that belong to none.
    fn call<'m>(&mut self, function: &'m Function, names: &mut Names<'m>) -> (Option<Index>, Option<Index>) {
        let is_unicode = |option: &&model::Setting| option.name.starts_with(unicode::NAMESPACE);
        let (for_all, own): (Few<_>, Few<_>) = function.options.iter().partition(is_unicode);
        let unicode = (!for_all.is_empty()).then(|| self.unicode(&for_all, names));
        let call = if let Some(built_in) = BuiltIn::named(&function.name) {
            Call::BuiltIn(self.built_in(built_in, &own, names))
        } else {
            let name = self.put(&function.name);
            Call::Custom { name, options: self.settings(own, names) }
        };
        let last = self.calls.len().saturating_sub(REMEMBERED);
        let known = match &call {
            Call::BuiltIn(built_in) if built_in.runtime.is_none() => {
                self.calls.iter().skip(last).position(|other| *other == call).map(|at| last + at)
            }
            _ => None,
        };
        let at = known.unwrap_or_else(|| {
            self.calls.push(call);
            self.calls.len() - 1
        });
        (Some(Index::new(index(at))), unicode)
    }

    fn unicode<'m>(&mut self, settings: &[&'m model::Setting], names: &mut Names<'m>) -> Index {
        let mut call = UnicodeCall::default();
        let (mut variable, mut bad) = (Vec::new(), Vec::new());
        for setting in settings {
            match &setting.value {
                model::Operand::Literal(value) => {
                    if call.options.set(&setting.name, String::from(value.as_str()).into()).is_err() {
                        bad.push(*setting);
                    }
                }
                model::Operand::Variable(_) => variable.push(*setting),
            }
        }
        call.variable = self.settings(variable, names);
        call.bad = self.settings(bad, names);
        self.unicode.push(call);
        Index::new(index(self.unicode.len() - 1))
    }

    fn settings<'m>(
        &mut self,
        options: impl IntoIterator<Item = &'m model::Setting>,
        names: &mut Names<'m>,
    ) -> Slice {
        let start = index(self.settings.len());
        for option in options {
            let setting = self.setting(option, names);
            self.settings.push(setting);
        }
        let end = index(self.settings.len());
        if start == end { Slice::default() } else { Slice { start, end } }
    }

    fn setting<'m>(&mut self, setting: &'m model::Setting, names: &mut Names<'m>) -> Setting {
        let name = self.put(&setting.name);
        let value = match &setting.value {
            model::Operand::Literal(value) => Operand::Literal(self.put(value)),
            model::Operand::Variable(value) => self.variable(value, names).0,
        };
        (name, value)
    }

    fn built_in<'m>(
        &mut self,
        mut function: BuiltIn,
        settings: &[&'m model::Setting],
        names: &mut Names<'m>,
    ) -> BuiltInCall {
        let (mut variable, mut bad, mut value) = (Vec::new(), Vec::new(), None);
        for setting in settings {
            if function.value_option() == Some(&setting.name) {
                value = Some(self.setting(setting, names).1);
                continue;
            }
            match &setting.value {
                model::Operand::Literal(text) => {
                    if function.set(&setting.name, text).is_err() {
                        bad.push(*setting);
                    }
                }
                model::Operand::Variable(_) if function.takes_variable(&setting.name) => {
                    variable.push(*setting);
                }
                model::Operand::Variable(_) => bad.push(*setting),
            }
        }
        let runtime = RuntimeOptions {
            variable: self.settings(variable, names),
            bad: self.settings(bad, names),
            value,
        };
        BuiltInCall { function, runtime: (runtime != RuntimeOptions::default()).then(|| runtime.into()) }
    }

    fn key(&mut self, key: &Key) -> KeyTest {
        let Key::Literal(text) = key else { return KeyTest::Any };
        if let Some(category) = Category::from_keyword(text) {
            return KeyTest::Category(category);
        }
        let written = index(self.written_keys.len());
        let text_slice = self.put(text);
        self.written_keys.push(text_slice);
        match Decimal::read(text) {
            Some(number) => match number.to_i64().and_then(|whole| whole.try_into().ok()) {
                Some(whole) => KeyTest::Integer(whole, written),
                None => KeyTest::Number(written),
            },
            None => KeyTest::Text(written),
        }
    }
}
