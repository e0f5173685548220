package server

import (
	"io"
	"os"

	"github.com/labstack/echo/v5"

	"zorvel/internal/archive"
)

// upload is a body that was put on disk.
type upload struct {
	*os.File
	size int64
}

// Close ends the reading; the file is closed by archive.
func (u *upload) Close() error { return nil }

// archive puts an archive on disk while its peer sends it, and lets the request be
// answered once it is whole and its turn.
func (b *bodies) archive(c *echo.Context, most int64, next func() error) error {
	r := c.Request()
	leave, ok := acquire(r.Context(), roomWithin, 1, b.archives)
	if !ok {
		return busy(c, "5", "Many archives are coming in already. Send it again in a moment.")
	}
	defer leave()
	f, n, err := b.spool(c, most, "; what is larger is taken in on the command line")
	if err != nil {
		return err
	}
	defer func() { _ = f.Close() }()
	done, ok := acquire(r.Context(), roomWithin, 1, b.unpacked)
	if !ok {
		return busy(c, "5", "Two archives are being taken in already. Send it again in a moment.")
	}
	defer done()
	r.Body = &upload{File: f, size: n}
	return next()
}

// archived is the archive of a request.
func archived(body io.Reader, most archive.Limits) (*archive.Archive, error) {
	u, ok := body.(*upload)
	if !ok {
		return nil, refuseField("", "a zip archive is expected")
	}
	a, err := archive.Open(u.File, u.size, most)
	if err != nil {
		return nil, refuseField("", err.Error())
	}
	return a, nil
}
