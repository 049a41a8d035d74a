//! An object store that does what a test says: slow, hanging, failing, damaging what it hands out.

use std::fmt;
use std::sync::Mutex;
use std::time::Duration;

use async_trait::async_trait;
use crow_fly::source::conformance::Disturbance;
use futures_util::StreamExt;
use futures_util::stream::{BoxStream, once};
use object_store::memory::InMemory;
use object_store::path::Path;
use object_store::{
    CopyOptions, Error, GetOptions, GetResult, GetResultPayload, ListResult, MultipartUpload, ObjectMeta,
    ObjectStore, PutMultipartOptions, PutOptions, PutPayload, PutResult, Result,
};

#[derive(Debug, Default)]
pub(crate) struct Faulty {
    inner: InMemory,
    disturbance: Mutex<Disturbance>,
    /// What it was asked for, in order.
    asked: Mutex<Vec<String>>,
}

impl fmt::Display for Faulty {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a store that fails")
    }
}

impl Faulty {
    pub(crate) fn disturb(&self, disturbance: Disturbance) {
        *self.disturbance.lock().unwrap() = disturbance;
    }

    /// What it was asked for since this was last called.
    pub(crate) fn asked(&self) -> Vec<String> {
        std::mem::take(&mut self.asked.lock().unwrap())
    }

    async fn disturbed(&self, what: &str, location: Option<&Path>) -> Result<Disturbance> {
        let location = location.map(ToString::to_string).unwrap_or_default();
        self.asked.lock().unwrap().push(format!("{what} {location}"));
        let disturbance = *self.disturbance.lock().unwrap();
        match disturbance {
            Disturbance::Slow => tokio::time::sleep(Duration::from_millis(20)).await,
            Disturbance::Hanging => std::future::pending().await,
            Disturbance::Failing => {
                return Err(Error::Generic { store: "harbour", source: "the quay is closed".into() });
            }
            _ => {}
        }
        Ok(disturbance)
    }
}

#[async_trait]
impl ObjectStore for Faulty {
    async fn put_opts(&self, location: &Path, payload: PutPayload, options: PutOptions) -> Result<PutResult> {
        self.disturbed("put", Some(location)).await?;
        self.inner.put_opts(location, payload, options).await
    }

    async fn put_multipart_opts(
        &self,
        location: &Path,
        options: PutMultipartOptions,
    ) -> Result<Box<dyn MultipartUpload>> {
        self.inner.put_multipart_opts(location, options).await
    }

    async fn get_opts(&self, location: &Path, options: GetOptions) -> Result<GetResult> {
        let is_head = options.head;
        let disturbance = self.disturbed(if is_head { "head" } else { "get" }, Some(location)).await?;
        let found = self.inner.get_opts(location, options).await?;
        // Only the files are damaged: what leads to them is, too, in a test of its own.
        let is_file = location.as_ref().contains("/files/");
        if is_head || !is_file || !matches!(disturbance, Disturbance::Truncated | Disturbance::Corrupt) {
            return Ok(found);
        }
        let GetResult { meta, range, attributes, extensions, .. } =
            self.inner.get_opts(location, GetOptions::default()).await?;
        let mut bytes = found.bytes().await?.to_vec();
        if disturbance == Disturbance::Truncated {
            bytes.truncate(bytes.len() / 2);
        } else if let Some(byte) = bytes.last_mut() {
            *byte ^= 1;
        }
        let payload = GetResultPayload::Stream(once(async move { Ok(bytes.into()) }).boxed());
        Ok(GetResult { payload, meta, range, attributes, extensions })
    }

    fn delete_stream(&self, locations: BoxStream<'static, Result<Path>>) -> BoxStream<'static, Result<Path>> {
        self.inner.delete_stream(locations)
    }

    fn list(&self, prefix: Option<&Path>) -> BoxStream<'static, Result<ObjectMeta>> {
        self.inner.list(prefix)
    }

    fn list_with_offset(
        &self,
        prefix: Option<&Path>,
        offset: &Path,
    ) -> BoxStream<'static, Result<ObjectMeta>> {
        self.asked.lock().unwrap().push(format!("list after {offset}"));
        let disturbance = *self.disturbance.lock().unwrap();
        match disturbance {
            Disturbance::Hanging => futures_util::stream::pending().boxed(),
            Disturbance::Failing => {
                once(async { Err(Error::Generic { store: "harbour", source: "the quay is closed".into() }) })
                    .boxed()
            }
            _ => self.inner.list_with_offset(prefix, offset),
        }
    }

    async fn list_with_delimiter(&self, prefix: Option<&Path>) -> Result<ListResult> {
        self.disturbed("list", prefix).await?;
        self.inner.list_with_delimiter(prefix).await
    }

    async fn copy_opts(&self, from: &Path, to: &Path, options: CopyOptions) -> Result<()> {
        self.inner.copy_opts(from, to, options).await
    }
}
