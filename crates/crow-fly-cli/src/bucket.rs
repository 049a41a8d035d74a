//! Buckets: object stores by URL, over HTTPS.

use std::sync::Arc;

use anyhow::{Result, bail};
use async_trait::async_trait;
use http_body_util::BodyExt;
use hyper_rustls::{HttpsConnector, HttpsConnectorBuilder};
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector as Tcp;
use hyper_util::rt::TokioExecutor;
use object_store::aws::AmazonS3Builder;
use object_store::azure::MicrosoftAzureBuilder;
use object_store::client::{
    HttpClient, HttpConnector, HttpError, HttpErrorKind, HttpRequest, HttpRequestBody, HttpResponse,
    HttpResponseBody, HttpService,
};
use object_store::gcp::GoogleCloudStorageBuilder;
use object_store::path::Path;
use object_store::{ClientOptions, ObjectStore, ObjectStoreScheme};
use url::Url;

/// The store that a URL names, and the path in it. Keys come from the variables that the cloud's own tools read.
pub(crate) fn open(url: &Url) -> Result<(Arc<dyn ObjectStore>, Path)> {
    let (scheme, path) = ObjectStoreScheme::parse(url)?;
    let store: Arc<dyn ObjectStore> = match scheme {
        ObjectStoreScheme::AmazonS3 => Arc::new(
            AmazonS3Builder::from_env().with_url(url.as_str()).with_http_connector(Https::new()?).build()?,
        ),
        ObjectStoreScheme::MicrosoftAzure => Arc::new(
            MicrosoftAzureBuilder::from_env()
                .with_url(url.as_str())
                .with_http_connector(Https::new()?)
                .build()?,
        ),
        ObjectStoreScheme::GoogleCloudStorage => Arc::new(
            GoogleCloudStorageBuilder::from_env()
                .with_url(url.as_str())
                .with_http_connector(Https::new()?)
                .build()?,
        ),
        _ => bail!("{url} is not the URL of a bucket: use `s3://`, `az://` or `gs://`"),
    };
    Ok((store, path))
}

/// A client for HTTPS, and for HTTP where the store allows that.
#[derive(Clone, Debug)]
struct Https(Client<HttpsConnector<Tcp>, HttpRequestBody>);

impl Https {
    fn new() -> Result<Self> {
        let connector =
            HttpsConnectorBuilder::new().with_native_roots()?.https_or_http().enable_http1().build();
        Ok(Self(Client::builder(TokioExecutor::new()).build(connector)))
    }
}

impl HttpConnector for Https {
    fn connect(&self, _: &ClientOptions) -> object_store::Result<HttpClient> {
        Ok(HttpClient::new(self.clone()))
    }
}

#[async_trait]
impl HttpService for Https {
    async fn call(&self, request: HttpRequest) -> Result<HttpResponse, HttpError> {
        let answered = self.0.request(request).await.map_err(|error| {
            let kind = if error.is_connect() { HttpErrorKind::Connect } else { HttpErrorKind::Request };
            HttpError::new(kind, error)
        })?;
        let wrong = |error| HttpError::new(HttpErrorKind::Interrupted, error);
        Ok(answered.map(|body| HttpResponseBody::new(body.map_err(wrong))))
    }
}
