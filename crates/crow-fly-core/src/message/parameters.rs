//! What a message asks its caller for.

use alloc::boxed::Box;
use alloc::collections::{BTreeMap, BTreeSet};
use alloc::vec::Vec;

use super::function::definition::ParameterKind;
use super::function::registry::BuiltIn;
use super::model::{Element, Expression, Message, Operand, Setting};

/// A parameter of a message: a variable the caller gives.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
pub struct Parameter {
    /// Its name, without `$`.
    pub name: Box<str>,
    /// What the message does with it.
    pub kind: ParameterKind,
}

impl Message {
    /// The parameters the message asks for, sorted by name.
    ///
    /// ```
    /// use crow_fly_core::message::{Message, ParameterKind};
    ///
    /// let message = Message::parse("{$seats :number} seats on the {$ship}")?;
    /// let parameters = message.parameters();
    /// assert_eq!((&*parameters[0].name, parameters[0].kind), ("seats", ParameterKind::Number));
    /// assert_eq!((&*parameters[1].name, parameters[1].kind), ("ship", ParameterKind::Any));
    /// # Ok::<(), crow_fly_core::message::MessageErrors>(())
    /// ```
    pub fn parameters(&self) -> Vec<Parameter> {
        let mut uses = Uses::default();
        for declaration in &self.declarations {
            uses.expression(&declaration.value);
            uses.declared.insert(&declaration.name);
        }
        for element in self.patterns().flatten() {
            match element {
                Element::Text(_) => {}
                Element::Expression(expression) => uses.expression(expression),
                Element::Markup(markup) => uses.options(&markup.options),
            }
        }
        let parameter = |(name, kind): (&str, ParameterKind)| Parameter { name: name.into(), kind };
        uses.parameters.into_iter().map(parameter).collect()
    }
}

#[derive(Default)]
struct Uses<'m> {
    declared: BTreeSet<&'m str>,
    parameters: BTreeMap<&'m str, ParameterKind>,
}

impl<'m> Uses<'m> {
    fn expression(&mut self, expression: &'m Expression) {
        let function = expression.function.as_ref();
        let kind = function
            .and_then(|function| BuiltIn::named(&function.name))
            .map_or(ParameterKind::Any, |function| function.operand());
        if let Some(operand) = &expression.operand {
            self.operand(operand, kind);
        }
        self.options(function.map_or(&[], |function| &function.options));
    }

    fn options(&mut self, options: &'m [Setting]) {
        for option in options {
            self.operand(&option.value, ParameterKind::Any);
        }
    }

    fn operand(&mut self, operand: &'m Operand, kind: ParameterKind) {
        if let Operand::Variable(name) = operand
            && !self.declared.contains(name.as_str())
        {
            let known = self.parameters.entry(name).or_insert(kind);
            // `Any` sorts last: it only stays where nothing more is known.
            *known = kind.min(*known);
        }
    }
}
