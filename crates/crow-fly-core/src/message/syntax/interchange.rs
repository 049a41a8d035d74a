//! The standard's JSON form of the data model (UTS #35 part 9, "Data Model", JSON Schema), by `serde`.
//!
//! ```
//! use crow_fly_core::message::Message;
//!
//! let message = Message::parse("{$seats :number} left")?;
//! let json = serde_json::to_string(&message).unwrap();
//! assert_eq!(json, r#"{"type":"message","declarations":[],"pattern":[{"type":"expression","arg":{"type":"variable","name":"seats"},"function":{"type":"function","name":"number"}}," left"]}"#);
//! let again: Message = serde_json::from_str(&json).unwrap();
//! assert_eq!(again.to_string(), message.to_string());
//! # Ok::<(), crow_fly_core::message::MessageErrors>(())
//! ```

use alloc::vec::Vec;
use core::fmt;

use serde::de::{self, MapAccess, Visitor};
use serde::ser::SerializeMap;
use serde::{Deserialize, Deserializer, Serialize, Serializer};

use super::characters::is_identifier;
use crate::message::model::{self, Name, Span};

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Message {
    Message { declarations: Vec<Declaration>, pattern: Vec<Element> },
    Select { declarations: Vec<Declaration>, selectors: Vec<Variable>, variants: Vec<Variant> },
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Declaration {
    Input { name: Name, value: Expression },
    Local { name: Name, value: Expression },
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Variable {
    Variable { name: Name },
}

#[derive(Serialize, Deserialize)]
struct Variant {
    keys: Vec<Key>,
    value: Vec<Element>,
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type")]
enum Key {
    #[serde(rename = "literal")]
    Literal { value: Name },
    #[serde(rename = "*")]
    Any {},
}

#[derive(Serialize, Deserialize)]
#[serde(untagged)]
enum Element {
    Text(Name),
    Placeholder(Placeholder),
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Placeholder {
    Expression(Parts),
    Markup {
        kind: Kind,
        name: Name,
        #[serde(default, skip_serializing_if = "Pairs::is_empty")]
        options: Pairs<Operand>,
        #[serde(default, skip_serializing_if = "Pairs::is_empty")]
        attributes: Pairs<AttributeValue>,
    },
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Expression {
    Expression(Parts),
}

#[derive(Serialize, Deserialize)]
struct Parts {
    #[serde(default, skip_serializing_if = "Option::is_none")]
    arg: Option<Operand>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    function: Option<Function>,
    #[serde(default, skip_serializing_if = "Pairs::is_empty")]
    attributes: Pairs<AttributeValue>,
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Function {
    Function {
        name: Name,
        #[serde(default, skip_serializing_if = "Pairs::is_empty")]
        options: Pairs<Operand>,
    },
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Operand {
    Literal { value: Name },
    Variable { name: Name },
}

#[derive(Serialize, Deserialize)]
#[serde(untagged)]
enum AttributeValue {
    /// `true`: an attribute without a value.
    Alone(bool),
    Literal(Literal),
}

#[derive(Serialize, Deserialize)]
#[serde(tag = "type", rename_all = "lowercase")]
enum Literal {
    Literal { value: Name },
}

#[derive(Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
enum Kind {
    Open,
    Close,
    Standalone,
}

/// A JSON object whose order is kept.
struct Pairs<T>(Vec<(Name, T)>);

impl<T> Default for Pairs<T> {
    fn default() -> Self {
        Self(Vec::new())
    }
}

impl<T> Pairs<T> {
    const fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

impl<T: Serialize> Serialize for Pairs<T> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut map = serializer.serialize_map(Some(self.0.len()))?;
        for (name, value) in &self.0 {
            map.serialize_entry(name, value)?;
        }
        map.end()
    }
}

impl<'de, T: Deserialize<'de>> Deserialize<'de> for Pairs<T> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Reader<T>(core::marker::PhantomData<T>);

        impl<'de, T: Deserialize<'de>> Visitor<'de> for Reader<T> {
            type Value = Pairs<T>;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("an object")
            }

            fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<Pairs<T>, A::Error> {
                let mut pairs = Vec::new();
                while let Some(pair) = map.next_entry()? {
                    pairs.push(pair);
                }
                Ok(Pairs(pairs))
            }
        }

        deserializer.deserialize_map(Reader(core::marker::PhantomData))
    }
}

impl Serialize for model::Message {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let declarations = self.declarations.iter().map(Declaration::of).collect();
        match &self.body {
            model::Body::Pattern(pattern) => Message::Message { declarations, pattern: elements(pattern) },
            model::Body::Match { selectors, variants } => Message::Select {
                declarations,
                selectors: selectors
                    .iter()
                    .map(|one| Variable::Variable { name: one.name.clone() })
                    .collect(),
                variants: variants
                    .iter()
                    .map(|variant| Variant {
                        keys: variant.keys.iter().map(Key::of).collect(),
                        value: elements(&variant.pattern),
                    })
                    .collect(),
            },
        }
        .serialize(serializer)
    }
}

impl<'de> Deserialize<'de> for model::Message {
    /// Reads the form. Names must be names of the grammar, and the message must be without data-model errors. Places
    /// in a source are all empty.
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let message = match Message::deserialize(deserializer)? {
            Message::Message { declarations, pattern } => Self {
                declarations: declarations.into_iter().map(Declaration::into_model).collect(),
                body: model::Body::Pattern(into_pattern(pattern)),
            },
            Message::Select { declarations, selectors, variants } => Self {
                declarations: declarations.into_iter().map(Declaration::into_model).collect(),
                body: model::Body::Match {
                    selectors: selectors
                        .into_iter()
                        .map(|Variable::Variable { name }| model::Selector { name, span: Span::default() })
                        .collect(),
                    variants: variants
                        .into_iter()
                        .map(|variant| model::Variant {
                            keys: variant.keys.into_iter().map(Key::into_model).collect(),
                            pattern: into_pattern(variant.value),
                            span: Span::default(),
                        })
                        .collect(),
                },
            },
        };
        // What is not a name would be read as something else where it is written.
        if let Some(name) = message.names().find(|name| !is_identifier(name)) {
            return Err(de::Error::custom(format_args!("`{}` is not a name", name.escape_debug())));
        }
        match Self::parse(&alloc::format!("{message}")) {
            Ok(_) => Ok(message),
            Err(errors) => Err(de::Error::custom(errors)),
        }
    }
}

impl model::Message {
    /// Every name in the message: of variables, functions, options, attributes and markup.
    fn names(&self) -> impl Iterator<Item = &str> {
        let mut names: Vec<&str> = Vec::new();
        names.extend(self.declarations.iter().map(|declaration| declaration.name.as_str()));
        if let model::Body::Match { selectors, .. } = &self.body {
            names.extend(selectors.iter().map(|selector| selector.name.as_str()));
        }
        let mut settings: Vec<&model::Setting> = Vec::new();
        let mut operands: Vec<&model::Operand> = Vec::new();
        for expression in self.expressions() {
            operands.extend(&expression.operand);
            names.extend(expression.attributes.iter().map(|attribute| attribute.name.as_str()));
            if let Some(function) = &expression.function {
                names.push(&function.name);
                settings.extend(&function.options);
            }
        }
        for markup in self.markup() {
            names.push(&markup.name);
            names.extend(markup.attributes.iter().map(|attribute| attribute.name.as_str()));
            settings.extend(&markup.options);
        }
        operands.extend(settings.iter().map(|setting| &setting.value));
        names.extend(settings.iter().map(|setting| setting.name.as_str()));
        names.extend(operands.into_iter().filter_map(|operand| match operand {
            model::Operand::Variable(name) => Some(name.as_str()),
            model::Operand::Literal(_) => None,
        }));
        names.into_iter()
    }
}

impl Declaration {
    fn of(declaration: &model::Declaration) -> Self {
        let (name, value) = (declaration.name.clone(), Expression::Expression(Parts::of(&declaration.value)));
        match declaration.kind {
            model::DeclarationKind::Input => Self::Input { name, value },
            model::DeclarationKind::Local => Self::Local { name, value },
        }
    }

    fn into_model(self) -> model::Declaration {
        let (kind, name, Expression::Expression(value)) = match self {
            Self::Input { name, value } => (model::DeclarationKind::Input, name, value),
            Self::Local { name, value } => (model::DeclarationKind::Local, name, value),
        };
        model::Declaration { name, kind, value: value.into_model(), span: Span::default() }
    }
}

impl Key {
    fn of(key: &model::Key) -> Self {
        match key {
            model::Key::Literal(value) => Self::Literal { value: value.clone() },
            model::Key::Any => Self::Any {},
        }
    }

    fn into_model(self) -> model::Key {
        match self {
            Self::Literal { value } => model::Key::Literal(value),
            Self::Any {} => model::Key::Any,
        }
    }
}

fn elements(pattern: &model::Pattern) -> Vec<Element> {
    let element = |element: &model::Element| match element {
        model::Element::Text(text) => Element::Text(text.clone()),
        model::Element::Expression(expression) => {
            Element::Placeholder(Placeholder::Expression(Parts::of(expression)))
        }
        model::Element::Markup(markup) => Element::Placeholder(Placeholder::Markup {
            kind: match markup.kind {
                model::MarkupKind::Open => Kind::Open,
                model::MarkupKind::Close => Kind::Close,
                model::MarkupKind::Standalone => Kind::Standalone,
            },
            name: markup.name.clone(),
            options: options(&markup.options),
            attributes: attributes(&markup.attributes),
        }),
    };
    pattern.iter().map(element).collect()
}

fn into_pattern(elements: Vec<Element>) -> model::Pattern {
    let element = |element| match element {
        Element::Text(text) => model::Element::Text(text),
        Element::Placeholder(Placeholder::Expression(parts)) => {
            model::Element::Expression(parts.into_model())
        }
        Element::Placeholder(Placeholder::Markup { kind, name, options, attributes }) => {
            model::Element::Markup(model::Markup {
                kind: match kind {
                    Kind::Open => model::MarkupKind::Open,
                    Kind::Close => model::MarkupKind::Close,
                    Kind::Standalone => model::MarkupKind::Standalone,
                },
                name,
                options: into_settings(options),
                attributes: into_attributes(attributes),
                span: Span::default(),
            })
        }
    };
    elements.into_iter().map(element).collect()
}

fn options(settings: &[model::Setting]) -> Pairs<Operand> {
    Pairs(settings.iter().map(|setting| (setting.name.clone(), Operand::of(&setting.value))).collect())
}

fn into_settings(options: Pairs<Operand>) -> Vec<model::Setting> {
    let setting = |(name, value): (Name, Operand)| model::Setting {
        name,
        value: value.into_model(),
        span: Span::default(),
    };
    options.0.into_iter().map(setting).collect()
}

fn attributes(attributes: &[model::Attribute]) -> Pairs<AttributeValue> {
    let value = |value: &Option<Name>| match value {
        Some(value) => AttributeValue::Literal(Literal::Literal { value: value.clone() }),
        None => AttributeValue::Alone(true),
    };
    Pairs(attributes.iter().map(|attribute| (attribute.name.clone(), value(&attribute.value))).collect())
}

fn into_attributes(attributes: Pairs<AttributeValue>) -> Vec<model::Attribute> {
    let attribute = |(name, value)| model::Attribute {
        name,
        value: match value {
            AttributeValue::Literal(Literal::Literal { value }) => Some(value),
            AttributeValue::Alone(_) => None,
        },
    };
    attributes.0.into_iter().map(attribute).collect()
}

impl Parts {
    fn of(expression: &model::Expression) -> Self {
        Self {
            arg: expression.operand.as_ref().map(Operand::of),
            function: expression.function.as_ref().map(|function| Function::Function {
                name: function.name.clone(),
                options: options(&function.options),
            }),
            attributes: attributes(&expression.attributes),
        }
    }

    fn into_model(self) -> model::Expression {
        model::Expression {
            operand: self.arg.map(Operand::into_model),
            function: self.function.map(|Function::Function { name, options }| model::Function {
                name,
                options: into_settings(options),
                span: Span::default(),
            }),
            attributes: into_attributes(self.attributes),
            span: Span::default(),
        }
    }
}

impl Operand {
    fn of(operand: &model::Operand) -> Self {
        match operand {
            model::Operand::Literal(value) => Self::Literal { value: value.clone() },
            model::Operand::Variable(name) => Self::Variable { name: name.clone() },
        }
    }

    fn into_model(self) -> model::Operand {
        match self {
            Self::Literal { value } => model::Operand::Literal(value),
            Self::Variable { name } => model::Operand::Variable(name),
        }
    }
}
