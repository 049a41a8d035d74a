//! From data model to source: the canonical way to write a message.

use core::fmt::{self, Display, Write};

use super::characters::{is_bidi, is_name, is_space};
use crate::message::model::{
    Attribute, Body, Declaration, DeclarationKind, Element, Expression, Key, Markup, MarkupKind, Message,
    Operand, Pattern, Setting,
};

impl Display for Message {
    /// Writes the message's source. Read again it gives the same model.
    ///
    /// ```
    /// use crow_fly_core::message::Message;
    ///
    /// let message = Message::parse(".match   $n one{{One}}*  {{Many}}").unwrap_err();
    /// let message = Message::parse(".input{$n   :number}.match   $n one{{One}}*  {{Many}}")?;
    /// assert_eq!(message.to_string(), ".input {$n :number}\n.match $n\none {{One}}\n* {{Many}}");
    /// # Ok::<(), crow_fly_core::message::MessageErrors>(())
    /// ```
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for Declaration { name, kind, value, .. } in &self.declarations {
            match kind {
                DeclarationKind::Input => writeln!(f, ".input {value}")?,
                DeclarationKind::Local => writeln!(f, ".local ${name} = {value}")?,
            }
        }
        match &self.body {
            Body::Pattern(pattern) if self.declarations.is_empty() && !needs_quotes(pattern) => {
                write_pattern(f, pattern)
            }
            Body::Pattern(pattern) => quoted(f, pattern),
            Body::Match { selectors, variants } => {
                f.write_str(".match")?;
                for selector in selectors {
                    write!(f, " ${}", selector.name)?;
                }
                for variant in variants {
                    f.write_char('\n')?;
                    for key in &variant.keys {
                        write!(f, "{key} ")?;
                    }
                    quoted(f, &variant.pattern)?;
                }
                Ok(())
            }
        }
    }
}

/// Whether a pattern would be read as the beginning of something else.
fn needs_quotes(pattern: &Pattern) -> bool {
    match pattern.first() {
        Some(Element::Text(text)) => {
            text.trim_start_matches(|letter| is_space(letter) || is_bidi(letter)).starts_with('.')
        }
        _ => false,
    }
}

fn quoted(f: &mut fmt::Formatter<'_>, pattern: &Pattern) -> fmt::Result {
    f.write_str("{{")?;
    write_pattern(f, pattern)?;
    f.write_str("}}")
}

fn write_pattern(f: &mut fmt::Formatter<'_>, pattern: &Pattern) -> fmt::Result {
    for element in pattern {
        match element {
            Element::Text(text) => escaped(f, text, &['\\', '{', '}'])?,
            Element::Expression(expression) => expression.fmt(f)?,
            Element::Markup(markup) => markup.fmt(f)?,
        }
    }
    Ok(())
}

fn escaped(f: &mut fmt::Formatter<'_>, text: &str, special: &[char]) -> fmt::Result {
    for letter in text.chars() {
        if special.contains(&letter) {
            f.write_char('\\')?;
        }
        f.write_char(letter)?;
    }
    Ok(())
}

fn literal(f: &mut fmt::Formatter<'_>, text: &str) -> fmt::Result {
    if is_name(text) {
        return f.write_str(text);
    }
    f.write_char('|')?;
    escaped(f, text, &['\\', '|'])?;
    f.write_char('|')
}

impl Display for Key {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Any => f.write_char('*'),
            Self::Literal(text) => literal(f, text),
        }
    }
}

impl Display for Operand {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Literal(text) => literal(f, text),
            Self::Variable(name) => write!(f, "${name}"),
        }
    }
}

fn settings(f: &mut fmt::Formatter<'_>, options: &[Setting], attributes: &[Attribute]) -> fmt::Result {
    for option in options {
        write!(f, " {}={}", option.name, option.value)?;
    }
    for attribute in attributes {
        write!(f, " @{}", attribute.name)?;
        if let Some(value) = &attribute.value {
            f.write_char('=')?;
            literal(f, value)?;
        }
    }
    Ok(())
}

impl Display for Expression {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_char('{')?;
        if let Some(operand) = &self.operand {
            operand.fmt(f)?;
        }
        let mut options: &[Setting] = &[];
        if let Some(function) = &self.function {
            write!(f, "{}:{}", if self.operand.is_some() { " " } else { "" }, function.name)?;
            options = &function.options;
        }
        settings(f, options, &self.attributes)?;
        f.write_char('}')
    }
}

impl Display for Markup {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (start, end) = match self.kind {
            MarkupKind::Open => ("{#", "}"),
            MarkupKind::Close => ("{/", "}"),
            MarkupKind::Standalone => ("{#", " /}"),
        };
        write!(f, "{start}{}", self.name)?;
        settings(f, &self.options, &self.attributes)?;
        f.write_str(end)
    }
}
