package httpd

import (
	"context"
	"errors"
	"io"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"
	"golang.org/x/sync/semaphore"

	"zorvel/internal/problem"
)

// How large bodies come in: each is put on disk while its peer sends it, at
// whatever pace, and costs no memory until it is whole. Then it waits for room
// among the others that are being worked on.
const (
	plainBytes = 256 << 10 // up to here a body is read straight into memory
	leastPace  = 4 << 10   // bytes a second that a peer sends at least, after a first pause
	// The bytes of bodies that are worked on at once; a body takes several times
	// its length while it is read.
	roomForAll       = 48 << 20
	roomForStrangers = 20 << 20 // of them, for those without an account
	// How many come in at once.
	comingIn          = 48
	comingInStrangers = 8
	comingInArchives  = 8
	// How long the next one waits for its turn.
	roomWithin = 20 * time.Second
)

// Bodies lets large bodies in by turns.
type Bodies struct {
	known, strangers, archives *semaphore.Weighted // on their way in
	all, ofStrangers           *semaphore.Weighted // bytes in memory
	unpacked                   *semaphore.Weighted // archives that are read
	patience                   time.Duration       // with a peer that sends nothing
}

// NewBodies waits for peers as long as patience says.
func NewBodies(patience time.Duration) *Bodies {
	return &Bodies{
		known:       semaphore.NewWeighted(comingIn),
		strangers:   semaphore.NewWeighted(comingInStrangers),
		archives:    semaphore.NewWeighted(comingInArchives),
		all:         semaphore.NewWeighted(roomForAll),
		ofStrangers: semaphore.NewWeighted(roomForStrangers),
		unpacked:    semaphore.NewWeighted(2),
		patience:    patience,
	}
}

// paced reads a body whose peer has to keep going: however long it takes in sum, it
// may not stand still, nor trickle.
type paced struct {
	io.Reader
	connection *http.ResponseController
	patience   time.Duration
	began      time.Time
	n          int64
}

func (p *paced) Read(b []byte) (int, error) {
	now := time.Now()
	until := p.began.Add(p.patience + time.Duration(p.n)*time.Second/leastPace)
	if still := now.Add(p.patience); still.Before(until) {
		until = still
	}
	_ = p.connection.SetReadDeadline(until) // without a connection (in a test) nothing is slow
	n, err := p.Reader.Read(b)
	p.n += int64(n)
	return n, err
}

// reader is the body of a request, at its pace and within its bound. done is
// called when it was read to its end: what the peer says next has its own time.
func (b *Bodies) reader(c *echo.Context, most int64) (body io.Reader, done func()) {
	r, w := c.Request(), c.Response()
	to := http.NewResponseController(w)
	p := &paced{Reader: http.MaxBytesReader(w, r.Body, most), connection: to, patience: b.patience, began: time.Now()}
	return p, func() { _ = to.SetReadDeadline(time.Time{}) }
}

var errBrokeOff = problem.New(http.StatusBadRequest, "The request broke off", "It was not read to its end; send it again.")

// notRead is what is told of a body that could not be read to its end.
func notRead(c *echo.Context, err error, most int64, else_ string) error {
	var tooBig *http.MaxBytesError
	var disk *fs.PathError
	switch {
	case errors.As(err, &tooBig):
		return tooLarge(most, else_)
	case errors.As(err, &disk): // it has no room
		return err
	}
	// The peer went away or is too slow: what follows isn't a request.
	c.Response().Header().Set("Connection", "close")
	return errBrokeOff
}

func tooLarge(most int64, else_ string) error {
	return problem.New(http.StatusRequestEntityTooLarge, "Too much at once", "Send at most "+size(most)+" here"+else_+".")
}

// size is a number of bytes in words.
func size(n int64) string {
	if n >= 1<<20 {
		return strconv.FormatInt(n>>20, 10) + " MB"
	}
	return strconv.FormatInt(n>>10, 10) + " kB"
}

// Busy tells a peer to come back.
func Busy(c *echo.Context, seconds, detail string) error {
	c.Response().Header().Set("Retry-After", seconds)
	return problem.New(http.StatusTooManyRequests, "Too many at once", detail)
}

// Acquire waits for room in each of the queues; release gives it back.
func Acquire(ctx context.Context, within time.Duration, weight int64, queues ...*semaphore.Weighted) (release func(), ok bool) {
	ctx, cancel := context.WithTimeout(ctx, within)
	defer cancel()
	for i, q := range queues {
		if q.Acquire(ctx, weight) != nil {
			for _, had := range queues[:i] {
				had.Release(weight)
			}
			return nil, false
		}
	}
	return func() {
		for _, q := range queues {
			q.Release(weight)
		}
	}, true
}

// Read takes a body into memory. release is called when the request was answered.
func (b *Bodies) Read(c *echo.Context, most int64, known bool) (data []byte, release func(), err error) {
	r := c.Request()
	release = func() {}
	if r.Body == nil || r.Body == http.NoBody {
		return nil, release, nil
	}
	if r.ContentLength > most {
		c.Response().Header().Set("Connection", "close")
		return nil, release, tooLarge(most, "")
	}
	if most <= plainBytes || r.ContentLength >= 0 && r.ContentLength <= plainBytes {
		body, done := b.reader(c, most)
		if data, err = io.ReadAll(body); err != nil {
			return nil, release, notRead(c, err, most, "")
		}
		done()
		return data, release, nil
	}
	slots, rooms := []*semaphore.Weighted{b.known}, []*semaphore.Weighted{b.all}
	if !known {
		slots, rooms = []*semaphore.Weighted{b.strangers}, []*semaphore.Weighted{b.ofStrangers, b.all}
	}
	leave, ok := Acquire(r.Context(), roomWithin, 1, slots...)
	if !ok {
		return nil, release, Busy(c, "5", "Many large files are coming in already. Send it again in a moment.")
	}
	f, n, err := b.spool(c, most, "")
	leave()
	if err != nil {
		return nil, release, err
	}
	defer func() { _ = f.Close() }()
	if release, ok = Acquire(r.Context(), roomWithin, n, rooms...); !ok {
		return nil, func() {}, Busy(c, "5", "Many large files are being worked on already. Send it again in a moment.")
	}
	data = make([]byte, n)
	if _, err = io.ReadFull(f, data); err != nil {
		release()
		return nil, func() {}, err
	}
	return data, release, nil
}

// uploadPattern names what lies on disk while it comes in.
const uploadPattern = "zorvel-upload-"

// spool puts a body on disk, in a file that is gone when it is closed.
func (b *Bodies) spool(c *echo.Context, most int64, else_ string) (*os.File, int64, error) {
	f, err := os.CreateTemp("", uploadPattern)
	if err != nil {
		return nil, 0, err
	}
	// Without a name it goes with this process, however that ends.
	if err := os.Remove(f.Name()); err != nil {
		_ = f.Close()
		return nil, 0, err
	}
	body, done := b.reader(c, most)
	n, err := io.Copy(f, body)
	if err != nil {
		_ = f.Close()
		return nil, 0, notRead(c, err, most, else_)
	}
	done()
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		_ = f.Close()
		return nil, 0, err
	}
	return f, n, nil
}

// SweepUploads takes away what earlier versions left on disk when they were ended:
// whatever comes in now has no name.
func SweepUploads() {
	left, _ := filepath.Glob(filepath.Join(os.TempDir(), uploadPattern+"*"))
	for _, name := range left {
		_ = os.Remove(name)
	}
}
