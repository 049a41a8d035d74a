//! Modules and types as Rust, in the layout of `rustfmt`.

use crate::field::{Field, FieldKind};
use crate::model::{MessageType, Module};
use crate::name::camel;
use crate::read::SourceFile;

/// The width of a line.
const WIDTH: usize = 100;

/// The width of the elements of a short array, and of the arguments of a short call.
const SHORT: usize = 60;

/// Text that grows by lines.
#[derive(Default)]
struct Code {
    text: String,
    depth: usize,
}

impl Code {
    /// A line, indented.
    fn line(&mut self, line: &str) {
        if !line.is_empty() {
            self.text.extend(std::iter::repeat_n("    ", self.depth));
            self.text.push_str(line);
        }
        self.text.push('\n');
    }

    /// Lines of documentation.
    fn docs(&mut self, text: &str) {
        for line in text.lines() {
            self.line(format!("/// {}", visible(line)).trim_end());
        }
    }

    fn fits(&self, line: &str) -> bool {
        self.depth * 4 + line.chars().count() <= WIDTH
    }

    /// An assignment: its value goes to a line of its own where both are too long for one.
    fn assign(&mut self, left: &str, value: &str) {
        let line = format!("{left} {value};");
        if self.fits(&line) {
            return self.line(&line);
        }
        self.line(left);
        self.depth += 1;
        self.line(&format!("{value};"));
        self.depth -= 1;
    }

    /// Opens a block.
    fn open(&mut self, line: &str) {
        self.line(line);
        self.depth += 1;
    }

    /// Closes it.
    fn close(&mut self, line: &str) {
        self.depth = self.depth.saturating_sub(1);
        self.line(line);
    }
}

/// The whole module.
pub(crate) fn print(reference: &str, root: &Module, files: &[SourceFile]) -> String {
    let mut code = Code::default();
    code.line(crate::HEAD);
    for module in &root.modules {
        code.line("");
        print_module(&mut code, module, &[]);
    }
    code.line("");
    print_sections(&mut code, root);
    code.line("");
    print_messages(&mut code, root);
    code.line("");
    print_texts(&mut code, reference, files);
    code.text
}

/// Lints that are no use in code that nobody writes.
fn allow(code: &mut Code) {
    code.open("#[allow(");
    for lint in
        ["clippy::all", "clippy::pedantic", "dead_code", "missing_debug_implementations", "unreachable_pub"]
    {
        code.line(&format!("{lint},"));
    }
    code.line("reason = \"this code is made from catalogs\"");
    code.close(")]");
}

fn print_module(code: &mut Code, (name, module): (&String, &Module), outer: &[&str]) {
    let what = if outer.is_empty() { "section" } else { "group" };
    code.docs(&format!("The {what} `{}`.", module.path));
    if outer.is_empty() {
        allow(code);
    }
    code.open(&format!("pub mod {name} {{"));
    let section = outer.first().copied().unwrap_or(&module.path);
    let path: Vec<&str> = if outer.is_empty() { vec![section] } else { [outer, &[name]].concat() };
    let mut is_first = true;
    for message in &module.messages {
        if !is_first {
            code.line("");
        }
        is_first = false;
        print_message(code, message, section, path.len());
    }
    for inner in &module.modules {
        if !is_first {
            code.line("");
        }
        is_first = false;
        print_module(code, inner, &path);
    }
    code.close("}");
}

/// A message's type, the enums of its fields, and what makes it one.
fn print_message(code: &mut Code, (name, message): (&String, &MessageType), section: &str, depth: usize) {
    print_docs(code, message);
    let generics = Generics::of(name, message);
    if message.fields.is_empty() {
        code.line(&format!("pub struct {name};"));
    } else {
        print_struct(code, name, message, &generics);
    }
    for (choice, variants) in message.choices(name) {
        code.line("");
        print_choice(code, &choice, variants, message);
    }
    code.line("");
    let supers = "super::".repeat(depth);
    let section = camel(section).unwrap_or_default();
    let of = format!("{name}{}", generics.arguments());
    let head = format!("impl{} ::crow_fly::typed::Message<'a> for {of}", generics.with_lifetime());
    let bounds = generics.bounds();
    if !code.fits(&format!("{head} {{")) {
        // Where such a line is broken depends on much.
        code.line("#[rustfmt::skip]");
    }
    if bounds.is_empty() {
        code.open(&format!("{head} {{"));
    } else {
        code.line(&head);
        print_where(code, &bounds);
    }
    code.assign("type Section =", &format!("{supers}sections::{section}"));
    code.assign("const KEY: &'static str =", &format!("{:?}", message.key));
    code.line("");
    code.open("fn arguments(self) -> ::crow_fly::Args<'a> {");
    print_arguments(code, &message.fields);
    code.close("}");
    code.close("}");
}

/// A line of documentation as the compiler takes it: characters that control, or turn the direction of what follows, are shown as
/// escapes.
pub(crate) fn visible(line: &str) -> String {
    let mut shown = String::with_capacity(line.len());
    for letter in line.chars() {
        let turns = matches!(letter, '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}');
        let breaks = matches!(letter, '\u{2028}' | '\u{2029}' | '\u{feff}');
        if turns || breaks || (letter.is_control() && letter != '\t') {
            shown.extend(letter.escape_unicode());
        } else {
            shown.push(letter);
        }
    }
    shown
}

fn print_docs(code: &mut Code, message: &MessageType) {
    code.docs(&format!("`{}`, in `{}`, line {}.", message.key, message.file, message.line));
    // Longer than any in the text.
    let longest = message.source.split(|letter| letter != '`').map(str::len).max().unwrap_or(0);
    let fence = "`".repeat(longest.max(2) + 1);
    code.line("///");
    code.docs(&format!("{fence}text"));
    for line in message.note.iter().flat_map(|note| note.lines()) {
        code.docs(&format!("# {line}"));
    }
    code.docs(&message.source);
    code.docs(&fence);
}

fn print_struct(code: &mut Code, name: &str, message: &MessageType, generics: &Generics) {
    let line = format!("pub struct {name}{}", generics.arguments());
    let bounds = generics.marks();
    if bounds.is_empty() {
        code.open(&format!("{line} {{"));
    } else {
        code.line(&line);
        print_where(code, &bounds);
    }
    for (field, of) in message.fields.iter().zip(&generics.types) {
        code.docs(&format!("`${}`: {}.", field.parameter, field.kind.text()));
        code.line(&format!("pub {}: {of},", field.name));
    }
    code.close("}");
}

fn print_choice(code: &mut Code, name: &str, variants: &[(String, String)], message: &MessageType) {
    code.docs(&format!("What `{}` tells apart.", message.key));
    code.open(&format!("pub enum {name}<'a> {{"));
    for (key, variant) in variants {
        code.docs(&format!("`{key}`"));
        code.line(&format!("{variant},"));
    }
    code.docs("Anything else.");
    code.line("Other(&'a str),");
    code.close("}");
    code.line("");
    code.open(&format!("impl<'a> ::core::convert::From<{name}<'a>> for ::crow_fly::Value<'a> {{"));
    code.open(&format!("fn from(value: {name}<'a>) -> Self {{"));
    code.open("match value {");
    for (key, variant) in variants {
        code.line(&format!("{name}::{variant} => {key:?}.into(),"));
    }
    code.line(&format!("{name}::Other(other) => other.into(),"));
    code.close("}");
    code.close("}");
    code.close("}");
    code.line("");
    code.open(&format!("impl<'a> ::core::convert::From<&'a str> for {name}<'a> {{"));
    code.open("fn from(text: &'a str) -> Self {");
    code.open("match text {");
    for (key, variant) in variants {
        code.line(&format!("{key:?} => Self::{variant},"));
    }
    code.line("other => Self::Other(other),");
    code.close("}");
    code.close("}");
    code.close("}");
}

fn print_arguments(code: &mut Code, fields: &[Field]) {
    if fields.is_empty() {
        return code.line("::crow_fly::Args::new()");
    }
    for field in fields {
        code.assign(&format!("let {} =", field.name), &format!("self.{}.into()", field.name));
    }
    let pair = |field: &Field| (format!("{:?}", field.parameter), field.name.clone());
    print_pairs(code, &fields.iter().map(pair).collect::<Vec<_>>());
}

/// `Args::of([(name, value), …])`, as `rustfmt` breaks it.
fn print_pairs(code: &mut Code, pairs: &[(String, String)]) {
    let is_short = |text: &str| text.chars().count() <= SHORT;
    let inner = |(name, value): &(String, String)| format!("{name}, {value}");
    let all = pairs.iter().map(|pair| format!("({})", inner(pair))).collect::<Vec<_>>().join(", ");
    let line = format!("::crow_fly::Args::of([{all}])");
    let is_line = if let [only] = pairs { is_short(&inner(only)) } else { is_short(&all) };
    if is_line && code.fits(&line) {
        return code.line(&line);
    }
    // One pair shares the lines of the brackets.
    if let [(name, value)] = pairs {
        code.open("::crow_fly::Args::of([(");
        code.line(&format!("{name},"));
        code.line(&format!("{value},"));
        return code.close(")])");
    }
    code.open("::crow_fly::Args::of([");
    for pair in pairs {
        let line = format!("({}),", inner(pair));
        if is_short(&inner(pair)) && code.fits(&line) {
            code.line(&line);
        } else {
            code.open("(");
            code.line(&format!("{},", pair.0));
            code.line(&format!("{},", pair.1));
            code.close("),");
        }
    }
    code.close("])");
}

/// The bounds of type parameters, and the block behind them.
fn print_where(code: &mut Code, bounds: &[String]) {
    code.line("where");
    for bound in bounds {
        code.line(&format!("    {bound},"));
    }
    code.open("{");
}

/// The type parameters of a message's type.
struct Generics {
    has_lifetime: bool,
    /// The name of each type parameter, and the trait that marks it.
    parameters: Vec<(String, Option<&'static str>)>,
    /// The type of each field.
    types: Vec<String>,
}

impl Generics {
    fn of(name: &str, message: &MessageType) -> Self {
        // A type of this name would stand for itself.
        let is_taken = name.strip_prefix('T').is_some_and(|rest| rest.parse::<usize>().is_ok());
        let letter = if is_taken { 'U' } else { 'T' };
        let mut generics = Self { has_lifetime: false, parameters: Vec::new(), types: Vec::new() };
        for field in &message.fields {
            let of = match &field.kind {
                FieldKind::Bool => "bool".to_owned(),
                FieldKind::Choice(_) => {
                    generics.has_lifetime = true;
                    format!("{name}{}<'a>", camel(&field.parameter).unwrap_or_default())
                }
                kind => {
                    let parameter = format!("{letter}{}", generics.parameters.len());
                    generics.parameters.push((parameter.clone(), kind.marker()));
                    parameter
                }
            };
            debug_assert_eq!(
                field.kind.is_generic(),
                generics.parameters.iter().any(|(name, _)| *name == of)
            );
            generics.types.push(of);
        }
        generics
    }

    /// What marks the fields.
    fn marks(&self) -> Vec<String> {
        let marked = self.parameters.iter().filter_map(|(name, marker)| Some((name, (*marker)?)));
        marked.map(|(name, marker)| format!("{name}: ::crow_fly::typed::{marker}")).collect()
    }

    /// As an implementation declares them, with the lifetime of the arguments: `<'a, T0>`.
    fn with_lifetime(&self) -> String {
        let names = self.parameters.iter().map(|(name, _)| name.clone());
        in_angles(std::iter::once("'a".to_owned()).chain(names))
    }

    /// As the type takes them: `<T0>`.
    fn arguments(&self) -> String {
        let lifetime = self.has_lifetime.then(|| "'a".to_owned());
        in_angles(lifetime.into_iter().chain(self.parameters.iter().map(|(name, _)| name.clone())))
    }

    fn bounds(&self) -> Vec<String> {
        let into = "::core::convert::Into<::crow_fly::Value<'a>>";
        let bound = |(name, marker): &(String, Option<&str>)| match marker {
            Some(marker) => format!("{name}: ::crow_fly::typed::{marker} + {into}"),
            None => format!("{name}: {into}"),
        };
        self.parameters.iter().map(bound).collect()
    }
}

fn in_angles(parameters: impl Iterator<Item = String>) -> String {
    let all = parameters.collect::<Vec<_>>().join(", ");
    if all.is_empty() { all } else { format!("<{all}>") }
}

/// A type for each section.
fn print_sections(code: &mut Code, root: &Module) {
    code.docs("The sections, for extractors that load them.");
    allow(code);
    code.open("pub mod sections {");
    for (at, module) in root.modules.values().enumerate() {
        if at > 0 {
            code.line("");
        }
        let (section, name) = (&module.path, camel(&module.path).unwrap_or_default());
        code.docs(&format!("`{section}`"));
        code.line(&format!("pub struct {name};"));
        code.line("");
        code.open(&format!("impl ::crow_fly::typed::Section for {name} {{"));
        code.assign("const NAME: &'static str =", &format!("{section:?}"));
        code.close("}");
    }
    code.close("}");
}

/// All keys with their parameters.
fn print_messages(code: &mut Code, root: &Module) {
    let mut rows = Vec::new();
    collect(root, &mut rows);
    rows.sort();
    code.docs("Every message with its parameters: what this program uses, for `CrowFlyBuilder::requiring`.");
    allow(code);
    code.line("#[rustfmt::skip]");
    code.open("pub const MESSAGES: &[(&str, &[&str])] = &[");
    for row in rows {
        code.line(&row);
    }
    code.close("];");
}

fn collect(module: &Module, rows: &mut Vec<String>) {
    for message in module.messages.values() {
        let names: Vec<String> =
            message.fields.iter().map(|field| format!("{:?}", field.parameter)).collect();
        rows.push(format!("({:?}, &[{}]),", message.key, names.join(", ")));
    }
    for module in module.modules.values() {
        collect(module, rows);
    }
}

/// The files themselves.
fn print_texts(code: &mut Code, reference: &str, files: &[SourceFile]) {
    let mut layers: Vec<Vec<&SourceFile>> = Vec::new();
    for file in files {
        // Of two files of one section the later one lies above.
        let free = layers.iter_mut().find(|layer| layer.iter().all(|other| other.section != file.section));
        match free {
            Some(layer) => layer.push(file),
            None => layers.push(vec![file]),
        }
    }
    if layers.is_empty() {
        layers.push(Vec::new());
    }
    code.docs("The catalogs that these types were made from: the last resort below other sources.");
    allow(code);
    code.open("pub fn texts() -> impl ::crow_fly::source::CatalogSource {");
    for (place, layer) in layers.iter().enumerate() {
        code.line("#[rustfmt::skip]");
        code.open(&format!("static LAYER_{place}: &[::crow_fly::source::EmbeddedFile] = &["));
        for file in layer {
            code.line(&format!("{},", embedded(reference, file)));
        }
        code.close("];");
    }
    let uppermost = layers.len().saturating_sub(1);
    if uppermost == 0 {
        code.line("::crow_fly::source::Embedded::new(LAYER_0).partial()");
    } else {
        code.line(&format!("let texts = ::crow_fly::source::Embedded::new(LAYER_{uppermost}).partial();"));
        code.line("let texts = ::crow_fly::source::Overlay::new(texts);");
        for place in (0..uppermost).rev() {
            code.line(&format!(
                "let texts = texts.over(::crow_fly::source::Embedded::new(LAYER_{place}).partial());"
            ));
        }
        code.line("texts");
    }
    code.close("}");
}

fn embedded(reference: &str, file: &SourceFile) -> String {
    let extension = file.format.extension();
    let path = match &file.section {
        Some(section) => format!("{reference}/{section}.{extension}"),
        None => format!("{reference}.{extension}"),
    };
    format!("::crow_fly::source::EmbeddedFile::new({path:?}, {:?})", file.text)
}
