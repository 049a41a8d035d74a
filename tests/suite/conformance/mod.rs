//! One table of requests for every adapter: what is answered is decided once, by a slow reference written from the
//! documentation or by hand, and asked of each adapter and of `explain`.

mod adapters;
mod own;
mod own_routes;
mod product;
mod reference;
mod site;
mod table;
