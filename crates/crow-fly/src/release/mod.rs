//! Releases: catalogs that are published once and never change, for fleets of servers.
//!
//! An object store holds them: a bucket, or a folder. Below a prefix it has
//!
//! | object | holds | changes |
//! |---|---|---|
//! | `files/<sha-256>` | a file of catalogs | never |
//! | `releases/<id>.json` | the [manifest](Manifest) of a release; its id is the SHA-256 of it | never |
//! | `active/<number>.json` | which release is active since then; the highest number counts | never |
//!
//! A deployment [publishes](ReleaseStore::publish) a release, then [activates](ReleaseStore::activate) it: it creates the
//! next number, and where two deployments try at the same time, one of them fails. To roll back is to activate an earlier
//! release. Every server looks for the next number, checks all of the release, and only then takes it: see [`Releases`].
//!
//! ```
//! use std::sync::Arc;
//!
//! use crow_fly::release::{Release, ReleaseStore, Releases};
//! use crow_fly::source::Memory;
//! use crow_fly::{Config, CrowFly};
//! use object_store::memory::InMemory;
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
//! let config = Config::parse("default = 'en'\nlocales = ['en']")?;
//! let store = ReleaseStore::new(Arc::new(InMemory::new())).below("ferries");
//!
//! // The deployment.
//! let catalogs = Memory::new([("en", "home", "title = 'Saltmarsh Ferries'")]);
//! let release = Release::of(&config, &catalogs).await?;
//! store.publish(&release).await?;
//! let activation = store.activate(release.id()).await?;
//! assert_eq!(activation.number(), 1);
//!
//! // A server.
//! let crow = CrowFly::new(config, Releases::new(store));
//! assert_eq!(crow.translator_for("en").await.text("home.title"), "Saltmarsh Ferries");
//! # Ok(()) }
//! ```

#[cfg(feature = "releases")]
mod cache;
mod error;
mod id;
mod manifest;
#[cfg(feature = "releases")]
mod package;
#[cfg(feature = "releases")]
mod source;
#[cfg(feature = "releases")]
mod store;

pub use error::ReleaseError;
pub use id::{ReleaseId, Sha256Hash};
#[cfg(feature = "http-source")]
pub(crate) use manifest::ListedFiles;
pub use manifest::{Manifest, ManifestFile};
#[cfg(feature = "releases")]
pub use package::Release;
#[cfg(feature = "releases")]
pub use source::Releases;
#[cfg(feature = "releases")]
pub use store::{Activation, Cleaned, History, ReleaseStore};
