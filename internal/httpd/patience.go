// Package httpd is what lies between a peer and a handler: how long it may take, how
// large bodies come in, and how JSON is read.
package httpd

import (
	"net"
	"net/http"
	"time"
)

// Patience is how long a peer may take for the header of a request; how long it
// may send nothing of the rest, or read nothing of an answer; and how long a
// connection stays open in between.
type Patience struct{ Header, Request, Answer, Between time.Duration }

// Bound sets how long a server waits. A body that is read has its pace, see bodies;
// the bound on reading is for those that nobody reads.
func (p Patience) Bound(h *http.Server) {
	h.ReadHeaderTimeout, h.ReadTimeout, h.WriteTimeout, h.IdleTimeout = p.Header, p.Header+p.Request, 0, p.Between
}

// Usual patience: a photo takes its time on a slow line, and so does a long
// document back; who stands still is let go.
var Usual = Patience{Header: 10 * time.Second, Request: 30 * time.Second, Answer: time.Minute, Between: 2 * time.Minute}

// Listener lets go of peers that take nothing of their answers.
func (p Patience) Listener(l net.Listener) net.Listener { return pacedListener{l, p.Answer} }

// pacedListener lets go of peers that read nothing: an answer may take any time in
// sum, as long as some of it is taken.
type pacedListener struct {
	net.Listener
	patience time.Duration
}

func (l pacedListener) Accept() (net.Conn, error) {
	c, err := l.Listener.Accept()
	if err != nil {
		return nil, err
	}
	return &pacedConn{c, l.patience}, nil
}

type pacedConn struct {
	net.Conn
	patience time.Duration
}

// pieceBytes is written within the patience with a reader.
const pieceBytes = 64 << 10

func (c *pacedConn) Write(b []byte) (n int, err error) {
	for {
		if err := c.SetWriteDeadline(time.Now().Add(c.patience)); err != nil {
			return n, err
		}
		m, err := c.Conn.Write(b[n:min(n+pieceBytes, len(b))])
		if n += m; err != nil || n == len(b) {
			return n, err
		}
	}
}
