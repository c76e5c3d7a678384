//! A connection that ends when its guest is silent for too long, or is shown out.

use crate::guard::doors::{Doors, Pass};
use axum_server::accept::Accept;
use std::future::{Future, poll_fn};
use std::io::{self, ErrorKind, IoSlice};
use std::pin::Pin;
use std::task::{Context, Poll, ready};
use std::time::Duration;
use tokio::io::{AsyncRead, AsyncWrite, ReadBuf};
use tokio::net::TcpStream;
use tokio::time::{Sleep, sleep};
use tokio_util::sync::WaitForCancellationFutureOwned;
use tower_http::add_extension::AddExtension;

/// A connection under watch.
pub(crate) struct HeldStream {
    stream: TcpStream,
    pass: Pass,
    patience: Pin<Box<Sleep>>,
    shown_out: Pin<Box<WaitForCancellationFutureOwned>>,
}

/// How soon silence is looked at again where it has just ended, at the soonest.
const SOONEST: Duration = Duration::from_millis(5);

impl HeldStream {
    pub(crate) fn new(stream: TcpStream, pass: Pass) -> HeldStream {
        HeldStream {
            stream,
            patience: Box::pin(sleep(pass.patience())),
            shown_out: Box::pin(pass.shown_out().cancelled_owned()),
            pass,
        }
    }

    /// The first byte that will be read, which stays to be read; none when nothing comes.
    pub(crate) async fn first(&mut self) -> io::Result<Option<u8>> {
        let mut byte = [0];
        let peeked = poll_fn(|cx| {
            let done = self.stream.poll_peek(cx, &mut ReadBuf::new(&mut byte));
            self.passed(cx, done)
        });
        Ok((peeked.await? > 0).then_some(byte[0]))
    }

    /// Waits on: an error once the guest must go.
    fn waits(&mut self, cx: &mut Context<'_>) -> Poll<io::Error> {
        if self.shown_out.as_mut().poll(cx).is_ready() {
            let full = "the room is full, and this connection was silent longest";
            return Poll::Ready(io::Error::new(ErrorKind::ConnectionAborted, full));
        }
        loop {
            ready!(self.patience.as_mut().poll(cx));
            let left = self.pass.patience();
            if left.is_zero() {
                let silent = "nothing was heard for too long";
                return Poll::Ready(io::Error::new(ErrorKind::TimedOut, silent));
            }
            self.patience.set(sleep(left.max(SOONEST)));
        }
    }

    /// What became of reading or writing.
    fn passed<T>(
        &mut self,
        cx: &mut Context<'_>,
        done: Poll<io::Result<T>>,
    ) -> Poll<io::Result<T>> {
        match done {
            Poll::Pending => self.waits(cx).map(Err),
            done => {
                self.pass.heard();
                done
            }
        }
    }
}

impl AsyncRead for HeldStream {
    fn poll_read(
        mut self: Pin<&mut Self>,
        cx: &mut Context<'_>,
        buffer: &mut ReadBuf<'_>,
    ) -> Poll<io::Result<()>> {
        let done = Pin::new(&mut self.stream).poll_read(cx, buffer);
        self.passed(cx, done)
    }
}

impl AsyncWrite for HeldStream {
    fn poll_write(
        mut self: Pin<&mut Self>,
        cx: &mut Context<'_>,
        buffer: &[u8],
    ) -> Poll<io::Result<usize>> {
        let done = Pin::new(&mut self.stream).poll_write(cx, buffer);
        self.passed(cx, done)
    }

    fn poll_write_vectored(
        mut self: Pin<&mut Self>,
        cx: &mut Context<'_>,
        buffers: &[IoSlice<'_>],
    ) -> Poll<io::Result<usize>> {
        let done = Pin::new(&mut self.stream).poll_write_vectored(cx, buffers);
        self.passed(cx, done)
    }

    fn is_write_vectored(&self) -> bool {
        self.stream.is_write_vectored()
    }

    fn poll_flush(mut self: Pin<&mut Self>, cx: &mut Context<'_>) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_flush(cx)
    }

    fn poll_shutdown(mut self: Pin<&mut Self>, cx: &mut Context<'_>) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_shutdown(cx)
    }
}

/// Lets browsers in by a door; requests carry the [`Pass`] of their connection.
#[derive(Clone)]
pub(crate) struct ByTheDoor(pub(crate) Doors);

impl<S> Accept<TcpStream, S> for ByTheDoor {
    type Stream = HeldStream;
    type Service = AddExtension<S, Pass>;
    type Future = std::future::Ready<io::Result<(Self::Stream, Self::Service)>>;

    fn accept(&self, stream: TcpStream, service: S) -> Self::Future {
        let let_in = stream.peer_addr().and_then(|peer| {
            stream.set_nodelay(true)?;
            let pass = self.0.let_in(peer.ip());
            let service = AddExtension::new(service, pass.clone());
            Ok((HeldStream::new(stream, pass), service))
        });
        std::future::ready(let_in)
    }
}
