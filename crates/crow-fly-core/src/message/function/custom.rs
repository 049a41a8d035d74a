//! Functions of an application's own.

use alloc::string::String;
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::fmt;

use crate::function_context::FunctionContext;
use crate::message::format_error::FunctionError;
use crate::value::{FunctionValue, Value};

/// What a message asks of a function: an operand and options, in a locale.
#[derive(Debug)]
pub struct Invocation<'i> {
    operand: Option<Value<'i>>,
    options: Vec<(&'i str, Value<'i>)>,
    inherited: Vec<(String, Value<'static>)>,
    context: &'i FunctionContext,
}

impl<'i> Invocation<'i> {
    pub(in crate::message) const fn new(
        operand: Option<Value<'i>>,
        options: Vec<(&'i str, Value<'i>)>,
        inherited: Vec<(String, Value<'static>)>,
        context: &'i FunctionContext,
    ) -> Self {
        Self { operand, options, inherited, context }
    }

    /// The operand, as it resolved. A value of the application's own type is there as it was given.
    pub const fn operand(&self) -> Option<&Value<'i>> {
        self.operand.as_ref()
    }

    /// The value of an option: as the message has it, or else as the function that made the operand handed it on.
    pub fn option(&self, name: &str) -> Option<&Value<'i>> {
        let own = self.options.iter().find(|(found, _)| *found == name).map(|(_, value)| value);
        own.or_else(|| self.inherited.iter().rfind(|(found, _)| found == name).map(|(_, value)| value))
    }

    /// The options the message has, in order; names as they are written.
    pub fn options(&self) -> impl Iterator<Item = (&'i str, &Value<'i>)> {
        self.options.iter().map(|(name, value)| (*name, value))
    }

    /// The locale, its patterns, and the reader's time zone.
    pub const fn context(&self) -> &'i FunctionContext {
        self.context
    }
}

/// A function of the application's own: `{$level :harbour:tide}`. Any Rust function of this shape is one.
pub trait CustomFunction: Send + Sync {
    /// Formats, or tells what is wrong; then the placeholder shows its fallback.
    ///
    /// # Errors
    /// [`FunctionError::bad_operand`] where the operand cannot be taken, [`FunctionError::bad_option`] where an option
    /// that cannot be done without is wrong; with a cause where there is one to tell.
    fn call(&self, invocation: &Invocation<'_>) -> Result<FunctionValue, FunctionError>;
}

impl<F> CustomFunction for F
where
    F: Fn(&Invocation<'_>) -> Result<FunctionValue, FunctionError> + Send + Sync,
{
    fn call(&self, invocation: &Invocation<'_>) -> Result<FunctionValue, FunctionError> {
        self(invocation)
    }
}

/// The functions an application adds to the standard's, by name.
///
/// ```
/// use std::sync::Arc;
/// use crow_fly_core::args;
/// use crow_fly_core::message::{FormatContext, FunctionError, Functions, Invocation, Message, Program};
/// use crow_fly_core::value::{FunctionValue, Value};
///
/// let functions = Functions::new().with("harbour:berth", |call: &Invocation<'_>| match call.operand() {
///     Some(Value::Integer(berth)) => Ok(FunctionValue::text(format!("No. {berth}"))),
///     _ => Err(FunctionError::bad_operand().because("a berth is an integer")),
/// });
/// let context = FormatContext::of(&"en".parse()?).with_functions(Arc::new(functions));
/// let program = Program::compile(&Message::parse("Berth {$n :harbour:berth}")?);
/// assert_eq!(program.format(&context, &args! { n: 7 }).text(), "Berth \u{2068}No. 7\u{2069}");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Default)]
pub struct Functions {
    by_name: Vec<(String, Arc<dyn CustomFunction>)>,
}

impl Functions {
    /// None.
    pub fn new() -> Self {
        Self::default()
    }

    /// Adds a function. Its name has a namespace, `harbour:tide`, so that it is not one of the standard's; a function of
    /// the standard's name is never asked.
    #[must_use]
    pub fn with(mut self, name: impl Into<String>, function: impl CustomFunction + 'static) -> Self {
        self.by_name.push((name.into(), Arc::new(function)));
        self
    }

    /// The names, in order.
    pub fn names(&self) -> impl Iterator<Item = &str> {
        self.by_name.iter().map(|(name, _)| name.as_str())
    }

    pub(in crate::message) fn get(&self, name: &str) -> Option<&dyn CustomFunction> {
        self.by_name.iter().rfind(|(known, _)| known == name).map(|(_, function)| &**function)
    }
}

impl fmt::Debug for Functions {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_list().entries(self.names()).finish()
    }
}
