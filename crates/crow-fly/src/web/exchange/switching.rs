//! The switch address: a form, a session, a choice that is remembered, an answer.

use std::time::Duration;

use tracing::warn;

use super::{Choice, Reply, RequestHead, SessionEntries, SessionKeys, Whom};
use crate::web::switch::{self, Switched};

/// The largest form that is read at the switch address, in bytes. One that names a locale and an address is far
/// smaller; a larger one is [`Form::TooLarge`].
pub const MAX_FORM: usize = 8 * 1024;

/// How long a form may take to arrive. One that is not there by then is [`Form::TooSlow`].
pub const FORM_TIMEOUT: Duration = Duration::from_secs(5);

/// What the adapter does next for a request of the switch address.
#[derive(Debug)]
pub enum SwitchStep {
    /// Read the request's body, up to [`MAX_FORM`] bytes and for [`FORM_TIMEOUT`].
    Form(AskedForForm),
    /// Read these keys of the request's session, without creating or touching one.
    Session(AskedForSessionOfChoice),
    /// Remember a choice, and tell the application.
    Remember(Remembering),
    /// Answer the request with this; the application is not asked. The last step.
    Respond(Reply),
}

/// A form that is posted to the switch address.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Form {
    /// The body, as it came.
    Read(Vec<u8>),
    /// It is larger than [`MAX_FORM`].
    TooLarge,
    /// It did not arrive within [`FORM_TIMEOUT`].
    TooSlow,
    /// It broke off, or there is none.
    Missing,
}

/// A form is asked for.
#[derive(Debug)]
pub struct AskedForForm(Whom);

impl AskedForForm {
    /// Takes the form.
    pub fn answer(self, head: &impl RequestHead, form: Form) -> SwitchStep {
        match form {
            Form::Read(form) => choose(&self.0, head, &form),
            Form::Missing => choose(&self.0, head, &[]),
            Form::TooLarge => SwitchStep::Respond(Reply::empty(413)),
            Form::TooSlow => SwitchStep::Respond(Reply::empty(408)),
        }
    }
}

/// The session is asked for: a choice is only written into one that exists.
#[derive(Debug)]
pub struct AskedForSessionOfChoice {
    keys: SessionKeys,
    remembering: Remembering,
}

impl AskedForSessionOfChoice {
    /// The keys to read.
    pub const fn keys(&self) -> &SessionKeys {
        &self.keys
    }

    /// Takes what the session has; [`SessionEntries::default`] where the request has no session.
    pub fn answer(mut self, entries: &SessionEntries) -> SwitchStep {
        if !entries.is_there() {
            self.remembering.choice.forget_session();
        }
        SwitchStep::Remember(self.remembering)
    }
}

/// A choice is to be remembered: write [`session_writes`](Choice::session_writes) into the request's session, and tell the
/// application. Where that fails the cookie remembers it all the same.
#[derive(Debug)]
pub struct Remembering {
    choice: Choice,
    reply: Reply,
}

impl Remembering {
    /// What the visitor chose.
    pub const fn choice(&self) -> &Choice {
        &self.choice
    }

    /// The answer, once it is remembered.
    pub fn done(self) -> Reply {
        self.reply
    }
}

/// The first step.
pub(super) fn begin(whom: Whom, head: &impl RequestHead) -> SwitchStep {
    match head.method() {
        "GET" | "HEAD" => choose(&whom, head, &[]),
        "POST" => SwitchStep::Form(AskedForForm(whom)),
        _ => {
            let mut reply = Reply::empty(405);
            reply.add("allow", "GET, HEAD, POST");
            SwitchStep::Respond(reply)
        }
    }
}

fn choose(whom: &Whom, head: &impl RequestHead, form: &[u8]) -> SwitchStep {
    let config = whom.site.config();
    match switch::choose(config, head, form) {
        Err(reason) => {
            if let Some(told) = &whom.told {
                // The first reason is the only one.
                let _ = told.refusal.set(reason);
            } else {
                warn!(target: "crow_fly::switch", reason, "a choice was refused");
            }
            whom.note(head, None, || format!("a choice is refused: {reason}"));
            SwitchStep::Respond(Reply::empty(400))
        }
        Ok(Switched { choice: None, reply }) => SwitchStep::Respond(reply),
        Ok(Switched { choice: Some(choice), reply }) => {
            whom.note(head, None, || {
                let locale = choice.locale().map(ToString::to_string).unwrap_or_default();
                format!("{}, a choice: {locale}", reply.status())
            });
            if !whom.only_asks() {
                choice.log();
                switch::warn_of_plain_http(&whom.site, head);
            }
            let asks_session = choice.session_writes().next().is_some();
            let keys = config.session_keys();
            let remembering = Remembering { choice, reply };
            if asks_session {
                SwitchStep::Session(AskedForSessionOfChoice { keys, remembering })
            } else {
                SwitchStep::Remember(remembering)
            }
        }
    }
}
