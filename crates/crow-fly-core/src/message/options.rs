//! Options that formatting will leave out, for checks.

use alloc::vec::Vec;

use super::function::registry::BuiltIn;
use super::function::unicode::{self, UnicodeOptions};
use super::model::{Function, Message, Operand, Setting};

/// An option that formatting leaves out, and the options there are in its place.
#[derive(Clone, Debug)]
pub struct WrongOption<'m> {
    /// The option.
    pub setting: &'m Setting,
    /// The names of the options that can stand there.
    pub known: Vec<&'static str>,
}

impl Message {
    /// The options that formatting will leave out: those whose name their function does not know, or whose literal value
    /// it cannot have, and the same of the `u:` options of functions and markup.
    pub fn wrong_options(&self) -> Vec<WrongOption<'_>> {
        let mut wrong = Vec::new();
        for function in self.expressions().filter_map(|expression| expression.function.as_ref()) {
            wrong_unicode_options(function, &mut wrong);
            if let Some(built_in) = BuiltIn::named(&function.name) {
                wrong_own_options(function, built_in, &mut wrong);
            }
        }
        for setting in self.markup().flat_map(|markup| &markup.options).filter(is_unicode) {
            if setting.name != "u:id" {
                wrong.push(WrongOption { setting, known: Vec::from(["u:id"]) });
            }
        }
        wrong
    }
}

#[allow(clippy::trivially_copy_pass_by_ref, reason = "a filter hands out references")]
fn is_unicode(setting: &&Setting) -> bool {
    setting.name.starts_with(unicode::NAMESPACE)
}

fn wrong_unicode_options<'m>(function: &'m Function, wrong: &mut Vec<WrongOption<'m>>) {
    let mut options = UnicodeOptions::DEFAULT;
    for setting in function.options.iter().filter(is_unicode) {
        let takes = match &setting.value {
            Operand::Literal(value) => options.set(&setting.name, value.as_str().into()).is_ok(),
            Operand::Variable(_) => unicode::NAMES.contains(&setting.name.as_str()),
        };
        if !takes {
            wrong.push(WrongOption { setting, known: unicode::NAMES.to_vec() });
        }
    }
}

fn wrong_own_options<'m>(function: &'m Function, mut built_in: BuiltIn, wrong: &mut Vec<WrongOption<'m>>) {
    for setting in function.options.iter().filter(|setting| !is_unicode(setting)) {
        let name = setting.name.as_str();
        let takes = match &setting.value {
            _ if built_in.value_option() == Some(name) => true,
            Operand::Literal(value) => built_in.set(name, value).is_ok(),
            Operand::Variable(_) => {
                built_in.takes_variable(name) && built_in.options().any(|known| known == name)
            }
        };
        if !takes {
            wrong.push(WrongOption { setting, known: built_in.options().collect() });
        }
    }
}
