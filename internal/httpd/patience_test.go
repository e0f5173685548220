package httpd

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"testing/synctest"
	"time"

	"github.com/labstack/echo/v5"
)

// pipes are connections within the program, whose clock is the test's own.
type pipes chan net.Conn

func (p pipes) Accept() (net.Conn, error) {
	if c, ok := <-p; ok {
		return c, nil
	}
	return nil, net.ErrClosed
}

func (p pipes) Close() error { return nil }

func (p pipes) Addr() net.Addr { return &net.UnixAddr{Name: "pipes"} }

// connected is the other end of a new connection to a server with the bounds that
// Serve sets, which says how long a body was and answers with a long text.
func connected(t *testing.T, p Patience) net.Conn {
	t.Helper()
	e, coming := echo.New(), NewBodies(p.Request)
	e.POST("/", func(c *echo.Context) error {
		data, release, err := coming.Read(c, 1<<20, true)
		if err != nil {
			return c.String(http.StatusBadRequest, err.Error())
		}
		defer release()
		return c.String(http.StatusOK, fmt.Sprint(len(data)))
	})
	e.GET("/", func(c *echo.Context) error { return c.String(http.StatusOK, strings.Repeat("x", 4*pieceBytes)) })
	h := &http.Server{Handler: e}
	p.Bound(h)
	here, there := net.Pipe()
	listener := make(pipes, 1)
	listener <- there
	go func() { _ = h.Serve(p.Listener(listener)) }()
	t.Cleanup(func() {
		_ = here.Close()
		close(listener)
		_ = h.Close()
		time.Sleep(time.Second) // net/http lets a connection linger for half of that
	})
	return here
}

var impatient = Patience{Header: time.Second, Request: 500 * time.Millisecond, Answer: 10 * time.Second, Between: time.Second}

// A body may take any time as a whole, as long as it comes; one that trickles or
// stands still is let go.
func TestBodiesAtTheirPace(t *testing.T) {
	for _, c := range []struct {
		name        string
		size, piece int
		pause       time.Duration
		whole       bool
	}{
		{"in memory, slow", 200 << 10, 10 << 10, 400 * time.Millisecond, true},
		{"on disk, slow", 400 << 10, 20 << 10, 400 * time.Millisecond, true},
		{"in memory, stands still", 200 << 10, 150 << 10, 600 * time.Millisecond, false},
		{"on disk, stands still", 400 << 10, 390 << 10, 600 * time.Millisecond, false},
		{"in memory, trickles", 200 << 10, 20, 100 * time.Millisecond, false},
		{"on disk, trickles", 400 << 10, 20, 100 * time.Millisecond, false},
	} {
		t.Run(c.name, func(t *testing.T) {
			synctest.Test(t, func(t *testing.T) {
				conn, began := connected(t, impatient), time.Now()
				sent := make(chan struct{})
				go func() {
					defer close(sent)
					if _, err := fmt.Fprintf(conn, "POST / HTTP/1.1\r\nHost: x\r\nContent-Length: %d\r\n\r\n", c.size); err != nil {
						return
					}
					for left := c.size; left > 0; left -= c.piece {
						if _, err := conn.Write(make([]byte, min(c.piece, left))); err != nil {
							return
						}
						time.Sleep(c.pause)
					}
				}()
				res, err := http.ReadResponse(bufio.NewReader(conn), nil)
				if err != nil {
					t.Fatal(err)
				}
				told, _ := io.ReadAll(res.Body)
				_ = res.Body.Close()
				took := time.Since(began)
				_ = conn.Close()
				<-sent
				switch {
				case c.whole && (res.StatusCode != 200 || string(told) != fmt.Sprint(c.size) || took < impatient.Header+impatient.Request):
					t.Errorf("after %v: %d %s", took, res.StatusCode, told)
				case !c.whole && (res.StatusCode != 400 || !res.Close || took > 2*time.Second):
					t.Errorf("after %v: %d, closes %v", took, res.StatusCode, res.Close)
				}
			})
		})
	}
}

// A long answer that is read slowly arrives whole, though it takes longer than a
// request may; who reads none of it is let go.
func TestSlowReaders(t *testing.T) {
	for _, c := range []struct {
		pause time.Duration
		whole bool
	}{{9 * time.Second, true}, {11 * time.Second, false}} {
		synctest.Test(t, func(t *testing.T) {
			conn := connected(t, impatient)
			if _, err := io.WriteString(conn, "GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"); err != nil {
				t.Fatal(err)
			}
			var got []byte
			var err error
			for piece := make([]byte, pieceBytes); err == nil; {
				time.Sleep(c.pause)
				var n int
				n, err = io.ReadFull(conn, piece)
				got = append(got, piece[:n]...)
			}
			if whole := strings.Count(string(got), "x") >= 4*pieceBytes; whole != c.whole {
				t.Errorf("pauses of %v: %d bytes, %v", c.pause, len(got), err)
			}
		})
	}
}
