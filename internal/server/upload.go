package server

import (
	"context"
	"errors"
	"io"
	"io/fs"
	"net/http"
	"os"
	"time"

	"github.com/labstack/echo/v5"
	"golang.org/x/sync/semaphore"

	"zorvel/internal/archive"
)

// uploads are archives that lie on disk while they are read: two at once, so that
// all of them together take what two may.
var uploads = semaphore.NewWeighted(2)

// uploadWithin is how long the next one waits for its turn.
const uploadWithin = 20 * time.Second

// upload is a body that was put on disk.
type upload struct {
	*os.File
	size int64
}

// Close ends the reading; the file is taken away by uploaded.
func (u *upload) Close() error { return nil }

// uploaded puts an archive on disk while the request is answered.
func uploaded(c *echo.Context, most int64, next func() error) error {
	r := c.Request()
	ctx, cancel := context.WithTimeout(r.Context(), uploadWithin)
	defer cancel()
	if uploads.Acquire(ctx, 1) != nil {
		c.Response().Header().Set("Retry-After", "5")
		return refuse(http.StatusTooManyRequests, "Too many at once", "Two archives are being taken in already. Send it again in a moment.")
	}
	defer uploads.Release(1)
	f, err := os.CreateTemp("", "zorvel-upload-")
	if err != nil {
		return err
	}
	defer func() {
		_ = f.Close()
		_ = os.Remove(f.Name())
	}()
	n, err := io.Copy(f, http.MaxBytesReader(c.Response(), r.Body, most))
	var tooBig *http.MaxBytesError
	var disk *fs.PathError
	switch {
	case errors.As(err, &tooBig):
		return refuse(http.StatusRequestEntityTooLarge, "Too much at once", "Send at most "+size(most)+" here; what is larger is taken in on the command line.")
	case errors.As(err, &disk): // it has no room
		return err
	case err != nil:
		c.Response().Header().Set("Connection", "close")
		return refuse(http.StatusBadRequest, "The request broke off", "It was not read to its end; send it again.")
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return err
	}
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
