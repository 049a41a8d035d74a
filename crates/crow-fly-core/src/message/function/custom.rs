//! Functions and types of an application's own.

use alloc::boxed::Box;
use alloc::string::String;
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::any::Any;
use core::fmt;

use crate::direction::Direction;
use crate::message::context::FormatContext;
use crate::message::format_error::FormatErrorKind;
use crate::value::Value;

/// What a message asks of a function: an operand and options, in a locale.
#[derive(Debug)]
pub struct Invocation<'i> {
    /// What stands before the function, as it resolved.
    pub operand: Option<Value<'i>>,
    /// The options, in order; names as they are written.
    pub options: Vec<(&'i str, Value<'i>)>,
    /// The locale, and all that is known of it.
    pub context: &'i FormatContext,
}

impl<'i> Invocation<'i> {
    /// The value of an option.
    pub fn option(&self, name: &str) -> Option<&Value<'i>> {
        self.options.iter().find(|(found, _)| *found == name).map(|(_, value)| value)
    }
}

/// The keys a value matches.
pub(crate) type Keys = Arc<dyn Fn(&str) -> bool + Send + Sync>;

/// What a function makes of its operand: a text, and what it selects by.
///
/// ```
/// use crow_fly_core::message::FunctionValue;
///
/// let tide = FunctionValue::text("high water").with_keys(|key| key == "high");
/// ```
#[derive(Clone)]
pub struct FunctionValue {
    pub(crate) text: String,
    pub(crate) direction: Option<Direction>,
    pub(crate) keys: Option<Keys>,
    pub(crate) carried: Option<Box<Value<'static>>>,
}

impl FunctionValue {
    /// A value that formats as a text, of unknown direction.
    pub fn text(text: impl Into<String>) -> Self {
        Self { text: text.into(), direction: None, keys: None, carried: None }
    }

    /// Says which way the text runs.
    #[must_use]
    pub fn with_direction(mut self, direction: Direction) -> Self {
        self.direction = Some(direction);
        self
    }

    /// Lets the value be selected by: the keys it matches.
    #[must_use]
    pub fn with_keys(mut self, keys: impl Fn(&str) -> bool + Send + Sync + 'static) -> Self {
        self.keys = Some(Arc::new(keys));
        self
    }

    /// What other functions get where this value is their operand; the text unless said.
    #[must_use]
    pub fn with_value(mut self, value: impl Into<Value<'static>>) -> Self {
        self.carried = Some(Box::new(value.into()));
        self
    }
}

impl fmt::Debug for FunctionValue {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("FunctionValue").field("text", &self.text).finish_non_exhaustive()
    }
}

/// A function of the application's own: `{$level :harbour:tide}`. Any Rust function of this shape is one.
pub trait CustomFunction: Send + Sync {
    /// Formats, or says what is wrong; then the place shows its fallback.
    ///
    /// # Errors
    /// [`FormatErrorKind::BadOperand`] where the operand cannot be taken, [`FormatErrorKind::BadOption`] where an
    /// option that cannot be done without is wrong.
    fn call(&self, invocation: &Invocation<'_>) -> Result<FunctionValue, FormatErrorKind>;
}

impl<F> CustomFunction for F
where
    F: Fn(&Invocation<'_>) -> Result<FunctionValue, FormatErrorKind> + Send + Sync,
{
    fn call(&self, invocation: &Invocation<'_>) -> Result<FunctionValue, FormatErrorKind> {
        self(invocation)
    }
}

/// A type of the application's own, as an argument of messages.
pub trait CustomValue: Any + fmt::Debug + Send + Sync {
    /// What it is where no function is applied to it.
    fn format(&self, context: &FormatContext) -> FunctionValue;
}

/// The functions an application adds to the standard's, by name.
///
/// ```
/// use std::sync::Arc;
/// use crow_fly_core::{args, message::{FormatErrorKind, FunctionValue, Functions, Invocation, Message, Program, FormatContext}, value::Value};
///
/// let functions = Functions::new().with("harbour:berth", |call: &Invocation<'_>| match &call.operand {
///     Some(Value::Integer(berth)) => Ok(FunctionValue::text(format!("No. {berth}"))),
///     _ => Err(FormatErrorKind::BadOperand),
/// });
/// let context = FormatContext::of(&"en".parse()?).with_functions(Arc::new(functions));
/// let program = Program::compile(&Message::parse("Berth {$n :harbour:berth}")?);
/// assert_eq!(program.to_text(&context, &args! { n: 7 }), "Berth \u{2068}No. 7\u{2069}");
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

    /// Adds a function. Its name has a namespace, `harbour:tide`, so that it is none of the standard's; a function of
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

    pub(crate) fn get(&self, name: &str) -> Option<&dyn CustomFunction> {
        self.by_name.iter().rfind(|(known, _)| known == name).map(|(_, function)| &**function)
    }
}

impl fmt::Debug for Functions {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_list().entries(self.names()).finish()
    }
}
