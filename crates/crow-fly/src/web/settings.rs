//! The signed-in visitor's own settings.

/// The signed-in visitor's own settings, for the `visitor` source: an application's own layer, before this one, puts
/// them into the request's extensions, or [`visitor_settings`](crate::web::LocaleLayer::visitor_settings) finds them.
///
/// ```
/// # use crow_fly::web::VisitorSettings;
/// let settings = VisitorSettings::new().with_locale("cy").with_time_zone("Europe/London");
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct VisitorSettings {
    pub(crate) locale: Option<String>,
    pub(crate) time_zone: Option<String>,
}

impl VisitorSettings {
    /// Nothing set.
    pub fn new() -> Self {
        Self::default()
    }

    /// Sets the locale: a language tag. What is not a tag is passed over, and the trace says so.
    #[must_use]
    pub fn with_locale(mut self, locale: impl Into<String>) -> Self {
        self.locale = Some(locale.into());
        self
    }

    /// Sets the time zone: a name of the IANA database.
    #[must_use]
    pub fn with_time_zone(mut self, time_zone: impl Into<String>) -> Self {
        self.time_zone = Some(time_zone.into());
        self
    }
}
