//! What is known of a request: plain values, no HTTP types.

/// The facts a decision is made from. What is not known stays at its default.
#[derive(Clone, Copy, Debug)]
pub struct Facts<'r> {
    /// The path, percent-encoded as it came, without query.
    pub path: &'r str,
    /// The query, without `?`; kept in redirects.
    pub query: Option<&'r str>,
    /// Whether the request asks for a page (GET or HEAD): only such requests are redirected by preference.
    pub is_page: bool,
    /// The host, without port.
    pub host: Option<&'r str>,
    /// The value of the query parameter that names a locale.
    pub query_value: Option<&'r str>,
    /// The value of the request header that names a locale.
    pub header_value: Option<&'r str>,
    /// The signed-in visitor's own setting.
    pub visitor: Option<&'r str>,
    /// What the session remembers.
    pub session: SessionValue<'r>,
    /// The value of the cookie that names a locale.
    pub cookie: Option<&'r str>,
    /// The lines of the Accept-Language header.
    pub accept_lines: &'r [&'r [u8]],
    /// Who names a time zone.
    pub time_zone: TimeZoneFacts<'r>,
}

/// What is known of the visitor's time zone.
#[derive(Clone, Copy, Debug, Default)]
pub struct TimeZoneFacts<'r> {
    /// The signed-in visitor's own setting.
    pub visitor: Option<&'r str>,
    /// What the session remembers.
    pub session: SessionValue<'r>,
    /// The value of the cookie that names a time zone, percent-decoded.
    pub cookie: Option<&'r str>,
}

impl<'r> Facts<'r> {
    /// A page at a path, and nothing else known.
    pub const fn at(path: &'r str) -> Self {
        Self {
            path,
            query: None,
            is_page: true,
            host: None,
            query_value: None,
            header_value: None,
            visitor: None,
            session: SessionValue::None,
            cookie: None,
            accept_lines: &[],
            time_zone: TimeZoneFacts { visitor: None, session: SessionValue::None, cookie: None },
        }
    }
}

impl Default for Facts<'_> {
    fn default() -> Self {
        Self::at("/")
    }
}

/// What a session remembers of the locale.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum SessionValue<'r> {
    /// There are no sessions.
    #[default]
    None,
    /// There is a session, and it remembers nothing.
    Empty,
    /// A locale.
    Text(&'r str),
    /// A value of another shape, as an older version or another application may have left it.
    OtherShape,
}
