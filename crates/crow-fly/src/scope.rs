//! The translator of the running request, for code that has no request at hand.

use std::cell::RefCell;
use std::future::Future;
use std::pin::Pin;
use std::task::{Context, Poll};

use futures_core::Stream;
use http_body::{Body, Frame, SizeHint};
use pin_project_lite::pin_project;

use crate::passed_on::PassedOn;
use crate::translator::Translator;

thread_local! {
    static CURRENT: RefCell<Option<Current>> = const { RefCell::new(None) };
}

/// What gives the current translator.
#[derive(Clone, Debug)]
enum Current {
    Translator(Translator),
    /// It is made when it is asked for.
    PassedOn(PassedOn),
}

/// The translator of the request this code runs for.
///
/// It waits for nothing: it has the sections that its page needs, and on a skipped path, in the default locale, those that
/// every page needs. Code that can wait and needs others loads them, by [`Translator::load`].
///
/// None outside of a request, in a task that a request spawned, and in a body that is streamed after the handler has
/// returned: carry it there by [`within`].
///
/// ```
/// // Outside of a request there is none.
/// assert!(crow_fly::current().is_none());
/// ```
pub fn current() -> Option<Translator> {
    // While a thread ends there is none.
    match CURRENT.try_with(|current| current.borrow().clone()).ok().flatten()? {
        Current::Translator(translator) => Some(translator),
        Current::PassedOn(passed_on) => {
            // It stays for the rest of the request. Nothing is borrowed while it is made.
            let translator = passed_on.translator_now();
            swap(&mut Some(Current::Translator(translator.clone())));
            Some(translator)
        }
    }
}

pin_project! {
    /// A future, a stream or a body that runs with a translator as the [`current`] one. Made by [`within`].
    #[derive(Clone, Debug)]
    #[must_use = "it does nothing until it is polled"]
    pub struct Within<T> {
        // Out while it is the current one.
        current: Option<Current>,
        #[pin]
        inner: T,
    }
}

impl<T> Within<T> {
    /// The translator; none while it is the current one, and where none has been made.
    pub(crate) const fn translator(&self) -> Option<&Translator> {
        match &self.current {
            Some(Current::Translator(translator)) => Some(translator),
            _ => None,
        }
    }
}

/// Runs a future, a stream or a body with a translator as the [`current`] one: a block in another locale, a job
/// without a request, a page that is streamed.
///
/// ```
/// # use crow_fly::{current, within, Config, CrowFly, source::Memory};
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
/// let welsh = crow.translator(&"cy".parse()?).await.unwrap();
/// let locale = within(welsh, async { current().unwrap().locale().to_string() }).await;
/// assert_eq!(locale, "cy");
/// assert!(current().is_none());
/// # Ok(()) }
/// ```
///
/// The chunks of a streamed body are made after the handler has returned. A handler that streams carries its
/// translator there: `Body::from_stream(within(t, chunks))`.
pub const fn within<T>(translator: Translator, inner: T) -> Within<T> {
    Within { current: Some(Current::Translator(translator)), inner }
}

/// Calls a function that gives a future; both run with a translator as the current one.
#[inline]
pub(crate) fn call_within<F>(translator: Translator, call: impl FnOnce() -> F) -> Within<F> {
    call_with(Current::Translator(translator), call)
}

impl PassedOn {
    /// Calls the application; [`current`] has a translator in the call and while the future that it gives runs.
    pub fn call<F>(&self, call: impl FnOnce() -> F) -> Within<F> {
        call_with(Current::PassedOn(self.clone()), call)
    }
}

#[inline]
fn call_with<F>(current: Current, call: impl FnOnce() -> F) -> Within<F> {
    let mut current = Some(current);
    let inner = enter(&mut current, call);
    Within { current, inner }
}

/// Calls a function with what is the current one then, in turns with the one before: no copy is made.
#[inline]
fn enter<R>(current: &mut Option<Current>, call: impl FnOnce() -> R) -> R {
    let swapped = Swapped::new(current);
    let result = call();
    drop(swapped);
    result
}

/// What has changed places with the current one, until this is dropped: also where the call panics.
struct Swapped<'t>(&'t mut Option<Current>);

impl<'t> Swapped<'t> {
    fn new(current: &'t mut Option<Current>) -> Self {
        swap(current);
        Self(current)
    }
}

impl Drop for Swapped<'_> {
    fn drop(&mut self) {
        swap(self.0);
    }
}

/// Changes places with the current one; while a thread ends there is none to change with.
fn swap(other: &mut Option<Current>) {
    let _ = CURRENT.try_with(|current| std::mem::swap(&mut *current.borrow_mut(), other));
}

impl<F: Future> Future for Within<F> {
    type Output = F::Output;

    fn poll(self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<F::Output> {
        let this = self.project();
        enter(this.current, || this.inner.poll(context))
    }
}

impl<S: Stream> Stream for Within<S> {
    type Item = S::Item;

    fn poll_next(self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<Option<S::Item>> {
        let this = self.project();
        enter(this.current, || this.inner.poll_next(context))
    }

    fn size_hint(&self) -> (usize, Option<usize>) {
        self.inner.size_hint()
    }
}

impl<B: Body> Body for Within<B> {
    type Data = B::Data;
    type Error = B::Error;

    fn poll_frame(
        self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<B::Data>, B::Error>>> {
        let this = self.project();
        enter(this.current, || this.inner.poll_frame(context))
    }

    fn is_end_stream(&self) -> bool {
        self.inner.is_end_stream()
    }

    fn size_hint(&self) -> SizeHint {
        self.inner.size_hint()
    }
}
