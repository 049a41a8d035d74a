//! The translator of the running request, for code that has no request at hand.

use std::cell::RefCell;
use std::future::Future;
use std::pin::Pin;
use std::task::{Context, Poll};

use futures_core::Stream;
use http_body::{Body, Frame, SizeHint};
use pin_project_lite::pin_project;

use crate::translator::Translator;

thread_local! {
    static CURRENT: RefCell<Option<Translator>> = const { RefCell::new(None) };
}

/// The translator of the request this code runs for.
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
    CURRENT.try_with(|current| current.borrow().clone()).ok().flatten()
}

pin_project! {
    /// A future, a stream or a body that runs with a translator as the [`current`] one. Made by [`within`].
    #[derive(Clone, Debug)]
    #[must_use = "it does nothing until it is polled"]
    pub struct Within<T> {
        // Out while it is the current one.
        translator: Option<Translator>,
        #[pin]
        inner: T,
    }
}

impl<T> Within<T> {
    /// The translator; none while it is the current one.
    pub(crate) const fn translator(&self) -> Option<&Translator> {
        self.translator.as_ref()
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
    Within { translator: Some(translator), inner }
}

/// Calls a function that gives a future; both run with a translator as the current one.
#[inline]
pub(crate) fn call_within<F>(translator: Translator, call: impl FnOnce() -> F) -> Within<F> {
    let mut translator = Some(translator);
    let inner = enter(&mut translator, call);
    Within { translator, inner }
}

/// Calls a function with a translator as the current one, in turns with the one before: no copy is made.
#[inline]
fn enter<R>(translator: &mut Option<Translator>, call: impl FnOnce() -> R) -> R {
    let swapped = Swapped::new(translator);
    let result = call();
    drop(swapped);
    result
}

/// A translator that has changed places with the current one, until this is dropped: also where the call panics.
struct Swapped<'t>(&'t mut Option<Translator>);

impl<'t> Swapped<'t> {
    fn new(translator: &'t mut Option<Translator>) -> Self {
        swap(translator);
        Self(translator)
    }
}

impl Drop for Swapped<'_> {
    fn drop(&mut self) {
        swap(self.0);
    }
}

/// Changes places with the current translator; while a thread ends there is none to change with.
fn swap(translator: &mut Option<Translator>) {
    let _ = CURRENT.try_with(|current| std::mem::swap(&mut *current.borrow_mut(), translator));
}

impl<F: Future> Future for Within<F> {
    type Output = F::Output;

    fn poll(self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<F::Output> {
        let this = self.project();
        enter(this.translator, || this.inner.poll(context))
    }
}

impl<S: Stream> Stream for Within<S> {
    type Item = S::Item;

    fn poll_next(self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<Option<S::Item>> {
        let this = self.project();
        enter(this.translator, || this.inner.poll_next(context))
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
        enter(this.translator, || this.inner.poll_frame(context))
    }

    fn is_end_stream(&self) -> bool {
        self.inner.is_end_stream()
    }

    fn size_hint(&self) -> SizeHint {
        self.inner.size_hint()
    }
}
