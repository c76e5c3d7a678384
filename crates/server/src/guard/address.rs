//! Where a visitor comes from.

use std::net::{IpAddr, Ipv6Addr, SocketAddr};

/// The address as visitors are counted by: one household has a whole /64 of IPv6, so that
/// its last half tells nobody apart.
pub(crate) fn counted(address: IpAddr) -> IpAddr {
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
pub(crate) fn forwarded<'a>(
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

#[cfg(test)]
mod tests {
    use super::*;

    fn ip(text: &str) -> IpAddr {
        text.parse().unwrap()
    }

    #[test]
    fn the_last_address_that_is_no_proxy_s_counts_however_it_is_written() {
        let from = |told: &[&str]| {
            let proxies = [ip("10.0.0.2")];
            forwarded(told.iter().copied(), ip("10.0.0.1"), &proxies)
        };
        assert_eq!(from(&[]), ip("10.0.0.1"));
        assert_eq!(from(&["203.0.113.7"]), ip("203.0.113.7"));
        // Made up by the visitor, then told by our proxy.
        assert_eq!(from(&["1.1.1.1, 203.0.113.7"]), ip("203.0.113.7"));
        assert_eq!(from(&["1.1.1.1", "203.0.113.7"]), ip("203.0.113.7"));
        assert_eq!(from(&["203.0.113.7", "1.1.1.1"]), ip("1.1.1.1"));
        // Two proxies of ours.
        assert_eq!(from(&["203.0.113.7, 10.0.0.2"]), ip("203.0.113.7"));
        assert_eq!(from(&["203.0.113.7:4711"]), ip("203.0.113.7"));
        assert_eq!(from(&["[2001:db8::7]:4711"]), ip("2001:db8::7"));
        assert_eq!(from(&["[2001:db8::7]"]), ip("2001:db8::7"));
        assert_eq!(from(&["::ffff:203.0.113.7"]), ip("203.0.113.7"));
        for nonsense in ["", "unknown", "203.0.113", "1.1.1.1, _hidden"] {
            assert_eq!(from(&[nonsense]), ip("10.0.0.1"), "{nonsense}");
        }
    }

    #[test]
    fn one_household_counts_as_one() {
        let (one, other) = (ip("2001:db8:1:2::7"), ip("2001:db8:1:2:ffff::9"));
        assert_eq!(counted(one), counted(other));
        assert_ne!(counted(one), counted(ip("2001:db8:1:3::7")));
        assert_ne!(counted(ip("203.0.113.7")), counted(ip("203.0.113.8")));
        assert_eq!(counted(ip("::ffff:203.0.113.7")), ip("203.0.113.7"));
    }
}
