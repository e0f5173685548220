package server

import (
	"net"
	"time"
)

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
