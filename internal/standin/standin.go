// Package standin serves the lines of simulated outside devices: it listens,
// talks to whoever connects, and ends every talk when it is closed.
package standin

import (
	"net"
	"sync"
)

// Server is a listening device.
type Server struct {
	lis   net.Listener
	mu    sync.Mutex
	conns map[net.Conn]bool
	over  bool
	done  sync.WaitGroup
}

// Listen serves an address, "127.0.0.1:0" for any free port; talk is called for
// every connection, and the connection closed after it.
func Listen(addr string, talk func(net.Conn)) (*Server, error) {
	lis, err := net.Listen("tcp", addr)
	if err != nil {
		return nil, err
	}
	s := &Server{lis: lis, conns: map[net.Conn]bool{}}
	s.done.Go(func() {
		for {
			c, err := lis.Accept()
			if err != nil {
				return
			}
			s.keep(c, true)
			s.done.Go(func() {
				talk(c)
				s.keep(c, false)
				_ = c.Close()
			})
		}
	})
	return s, nil
}

func (s *Server) keep(c net.Conn, open bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	switch {
	case !open:
		delete(s.conns, c)
	case s.over: // came in while it was being closed
		_ = c.Close()
	default:
		s.conns[c] = true
	}
}

// Addr is where it listens.
func (s *Server) Addr() string { return s.lis.Addr().String() }

// Close stops it and waits for its talks to end.
func (s *Server) Close() error {
	err := s.lis.Close()
	s.mu.Lock()
	s.over = true
	for c := range s.conns {
		_ = c.Close()
	}
	s.mu.Unlock()
	s.done.Wait()
	return err
}
