package httpd

import (
	"io"
	"os"

	"github.com/labstack/echo/v5"

	"zorvel/internal/archive"
	"zorvel/internal/problem"
)

// upload is a body that was put on disk.
type upload struct {
	*os.File
	size int64
}

// Close ends the reading; the file is closed by Archive.
func (u *upload) Close() error { return nil }

// Archive puts an archive on disk while its peer sends it, and lets the request be
// answered once it is whole and its turn.
func (b *Bodies) Archive(c *echo.Context, most int64, next func() error) error {
	r := c.Request()
	leave, ok := Acquire(r.Context(), roomWithin, 1, b.archives)
	if !ok {
		return Busy(c, "5", "Many archives are coming in already. Send it again in a moment.")
	}
	defer leave()
	f, n, err := b.spool(c, most, "; import larger files on the command line")
	if err != nil {
		return err
	}
	defer func() { _ = f.Close() }()
	done, ok := Acquire(r.Context(), roomWithin, 1, b.unpacked)
	if !ok {
		return Busy(c, "5", "Two archives are being imported already. Try again in a moment.")
	}
	defer done()
	r.Body = &upload{File: f, size: n}
	return next()
}

// Archived is the archive of a request.
func Archived(body io.Reader, most archive.Limits) (*archive.Archive, error) {
	u, ok := body.(*upload)
	if !ok {
		return nil, problem.Field("", "a zip archive is expected")
	}
	a, err := archive.Open(u.File, u.size, most)
	if err != nil {
		return nil, problem.Field("", err.Error())
	}
	return a, nil
}
