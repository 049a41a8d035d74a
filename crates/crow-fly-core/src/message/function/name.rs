//! `:crow:name`: the name of a locale, a region, a script or a currency, by its code.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"cy".parse()?);
//! let program = Program::compile(&Message::parse("{$tag :crow:name}")?);
//! assert_eq!(program.format(&context, &args! { tag: "cy" }).text(), "Cymraeg");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::string::{String, ToString};

use super::definition::{Call, Function, ParameterKind};
use super::option::{BadOption, one_of};
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::names::{self, Casing};
use crate::number::Currency;
use crate::tag::LanguageTag;
use crate::value::FunctionValue;

pub(in crate::message) struct Name;

/// What is named.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::message) enum Named {
    Locale,
    Region,
    Script,
    Currency,
}

impl Named {
    /// What the operand has to be.
    const fn expected(self) -> &'static str {
        match self {
            Self::Locale => {
                "a language tag, such as `pt-BR`; names of other languages take the feature `names`"
            }
            Self::Region => "the code of a region, such as `PL`; names take the feature `names`",
            Self::Script => "the code of a script, such as `Latn`; names take the feature `names`",
            Self::Currency => "the code of a currency, such as `EUR`",
        }
    }
}

impl Function for Name {
    const NAME: &'static str = "crow:name";
    const OPTIONS: &'static [&'static str] = &["type"];
    const OPERAND: ParameterKind = ParameterKind::Text;
    type Options = Named;
    const NO_OPTIONS: Named = Named::Locale;

    fn set(options: &mut Named, name: &str, value: &str) -> Result<(), BadOption> {
        let known = [
            ("locale", Named::Locale),
            ("language", Named::Locale),
            ("region", Named::Region),
            ("script", Named::Script),
            ("currency", Named::Currency),
        ];
        if name != "type" {
            return Err(BadOption::Unknown);
        }
        *options = one_of(value, known)?;
        Ok(())
    }

    fn resolve<'a>(call: Call<'_, 'a>, options: MaybeOwned<'a, Named>) -> Result<ResolvedValue<'a>, Refusal> {
        let context = call.context;
        let code = call.operand.into_text(context);
        let text =
            named(&code, *options, &context.tag).ok_or_else(|| Refusal::operand(options.expected()))?;
        Ok(ResolvedValue::formatted(FunctionValue::text(text).with_direction(context.direction), None))
    }
}

/// The name; where CLDR has none, the code in its canonical form, as ECMA-402 has it. None where it is no code, or where
/// this build has no names at all.
fn named(code: &str, kind: Named, language: &LanguageTag) -> Option<String> {
    let part = |code: String| names::part(&code, language).map(String::from).or_else(|| unnamed(code));
    let has_form = |lengths: &[usize]| {
        lengths.contains(&code.len()) && code.bytes().all(|byte| byte.is_ascii_alphabetic())
    };
    match kind {
        Named::Locale => {
            let tag = LanguageTag::parse_lenient(code).ok()?;
            let name = names::name(&tag, language, Casing::Sentence);
            name.or_else(|| unnamed(tag.canonicalized().to_string()))
        }
        Named::Region => {
            let is_number = code.len() == 3 && code.bytes().all(|byte| byte.is_ascii_digit());
            (has_form(&[2]) || is_number).then(|| code.to_ascii_uppercase()).and_then(part)
        }
        Named::Script => {
            let mut code = has_form(&[4]).then(|| code.to_ascii_lowercase())?;
            code.get_mut(..1)?.make_ascii_uppercase();
            part(code)
        }
        Named::Currency => {
            let currency = Currency::read(code)?;
            Some(names::currency(&currency, language).unwrap_or(currency.as_str()).into())
        }
    }
}

/// What is shown of a code without a name: the code, where the names of this build are all that CLDR has.
fn unnamed(code: String) -> Option<String> {
    cfg!(feature = "names").then_some(code)
}
