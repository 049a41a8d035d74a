//! Messages as TypeScript declarations: for scripts that ask for texts by `crow-fly.js`.

use std::fmt::Write as _;

use crate::field::{Field, FieldKind};
use crate::model::{MessageType, Module};

/// What the module for scripts is, whatever the messages are.
const MODULE: &str = include_str!("scripts.d.ts");

/// The declarations: the messages of some sections, then the module.
pub(crate) fn print(root: &Module, sections: &[String]) -> String {
    let mut code = format!("{}\n\ndeclare module \"*/crow-fly.js\" {{\n", crate::HEAD);
    code.push_str("    /** The messages that scripts may ask for, with their arguments. */\n");
    code.push_str("    export interface Messages {\n");
    let public = root.modules.values().filter(|module| sections.contains(&module.path));
    for module in public {
        print_module(&mut code, module);
    }
    code.push_str("    }\n\n");
    code.push_str(MODULE);
    code
}

fn print_module(code: &mut String, module: &Module) {
    for message in module.messages.values() {
        print_message(code, message);
    }
    for inner in module.modules.values() {
        print_module(code, inner);
    }
}

fn print_message(code: &mut String, message: &MessageType) {
    let note = message.note.iter().flat_map(|note| note.lines());
    let lines: Vec<String> = note.chain(message.source.lines()).map(comment).collect();
    match &*lines {
        [line] => {
            let _ = writeln!(code, "        /** {line} */");
        }
        lines => {
            code.push_str("        /**\n");
            for line in lines {
                code.push_str(format!("         * {line}").trim_end());
                code.push('\n');
            }
            code.push_str("         */\n");
        }
    }
    let _ = writeln!(code, "        {}: {};", quoted(&message.key), arguments(&message.fields));
}

/// A line in a comment, which it does not end.
fn comment(line: &str) -> String {
    crate::print::visible(line).replace("*/", "* /")
}

/// A string of TypeScript. Keys and names of parameters have nothing that JSON and TypeScript escape in different ways.
fn quoted(text: &str) -> String {
    format!("{text:?}")
}

fn arguments(fields: &[Field]) -> String {
    if fields.is_empty() {
        return "None".to_owned();
    }
    let fields = fields.iter().map(|field| format!("{}: {}", quoted(&field.parameter), kind(&field.kind)));
    format!("{{ {} }}", fields.collect::<Vec<_>>().join("; "))
}

fn kind(kind: &FieldKind) -> String {
    match kind {
        FieldKind::Number => "Numeric".to_owned(),
        FieldKind::Amount => "Money".to_owned(),
        FieldKind::Text => "string | Text".to_owned(),
        FieldKind::Date => "DateOrTime".to_owned(),
        FieldKind::Relative => "Numeric | DateOrTime".to_owned(),
        FieldKind::Duration => "Duration".to_owned(),
        FieldKind::List => "readonly Argument[]".to_owned(),
        FieldKind::Bool => "boolean".to_owned(),
        FieldKind::Choice(variants) => {
            let keys = variants.iter().map(|(key, _)| format!("{} | ", quoted(key)));
            format!("{}(string & {{}})", keys.collect::<String>())
        }
        FieldKind::Any => "Argument".to_owned(),
    }
}
