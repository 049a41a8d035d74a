//! What the layer and the application tell one another in a request's extensions.

/// The path of a request as it came, before its prefix was stripped: in the request's extensions.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OriginalPath(pub String);

/// The signed-in visitor's own setting, for the `visitor` source: an application's own layer, before this one,
/// puts it into the request's extensions.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct VisitorLocale(pub String);
