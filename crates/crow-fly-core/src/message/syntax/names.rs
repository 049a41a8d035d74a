//! A map that needs no memory of its own while it is small: the names of a message are few.

use alloc::collections::BTreeMap;
use core::borrow::Borrow;
use core::mem;

use smallvec::SmallVec;

/// How many entries are searched one by one.
const FEW: usize = 8;

/// Values by key.
pub(in crate::message) struct SmallMap<K, V> {
    few: SmallVec<[(K, V); FEW]>,
    /// All entries, once there are more than a few.
    many: BTreeMap<K, V>,
}

impl<K: Ord, V> SmallMap<K, V> {
    pub(in crate::message) fn new() -> Self {
        Self { few: SmallVec::new(), many: BTreeMap::new() }
    }

    pub(in crate::message) fn get<Q: Ord + ?Sized>(&self, key: &Q) -> Option<&V>
    where
        K: Borrow<Q>,
    {
        let found = self.few.iter().find(|(known, _)| known.borrow() == key).map(|(_, value)| value);
        found.or_else(|| self.many.get(key))
    }

    pub(in crate::message) fn is_empty(&self) -> bool {
        self.few.is_empty() && self.many.is_empty()
    }

    fn get_mut<Q: Ord + ?Sized>(&mut self, key: &Q) -> Option<&mut V>
    where
        K: Borrow<Q>,
    {
        let found = self.few.iter_mut().find(|(known, _)| known.borrow() == key).map(|(_, value)| value);
        found.or_else(|| self.many.get_mut(key))
    }

    /// The value of a key. A key that is new gets the default value.
    pub(in crate::message) fn or_default(&mut self, key: K) -> &mut V
    where
        K: Copy,
        V: Default,
    {
        let mut at = self.few.iter().position(|(known, _)| *known == key);
        if at.is_none() {
            if self.many.is_empty() && self.few.len() < FEW {
                at = Some(self.few.len());
                self.few.push((key, V::default()));
            } else {
                self.many.extend(self.few.drain(..));
            }
        }
        match at.and_then(|at| self.few.get_mut(at)) {
            Some((_, value)) => value,
            None => self.many.entry(key).or_default(),
        }
    }

    /// Sets a value; returns the one before.
    pub(in crate::message) fn insert(&mut self, key: K, value: V) -> Option<V> {
        if let Some(known) = self.get_mut(&key) {
            return Some(mem::replace(known, value));
        }
        if self.many.is_empty() && self.few.len() < FEW {
            self.few.push((key, value));
        } else {
            self.many.extend(self.few.drain(..));
            self.many.insert(key, value);
        }
        None
    }
}
