//! Where a visitor comes from.

use std::net::{IpAddr, Ipv6Addr, SocketAddr};

/// The address as visitors are counted by: one household has a whole /64 of IPv6, so that
/// its last half tells nobody apart.
pub fn counted(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(six) => {
            let network = u128::from(six) & !u128::from(u64::MAX);
            IpAddr::V6(Ipv6Addr::from(network))
        }
        four => four,
    }
}

/// The address of the visitor whom proxies speak for: the last that is no proxy's, as
/// whoever sends a request can make up all before it. `told` holds what every
/// `X-Forwarded-For` says, in order; `peer` is who is connected.
///
/// What is no address ends the search at the proxy that told it.
pub fn forwarded<'a>(
    told: impl DoubleEndedIterator<Item = &'a str>,
    peer: IpAddr,
    proxies: &[IpAddr],
) -> IpAddr {
    let mut from = peer.to_canonical();
    for told in told.rev().flat_map(|header| header.rsplit(',')) {
        let Some(before) = parsed(told.trim()) else {
            break;
        };
        from = before;
        if !proxies.contains(&before) && !before.is_loopback() {
            break;
        }
    }
    from
}

/// An address, alone or with a port, as proxies write it.
fn parsed(told: &str) -> Option<IpAddr> {
    let bare = told.strip_prefix('[').and_then(|t| t.strip_suffix(']'));
    let address = match bare.unwrap_or(told).parse() {
        Ok(address) => address,
        Err(_) => told.parse::<SocketAddr>().ok()?.ip(),
    };
    Some(address.to_canonical())
}
