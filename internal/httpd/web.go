package httpd

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/labstack/echo/v5"
)

// AddWeb serves the built front end. Files under assets/ carry a hash in their
// name and may be kept for good; the page itself is asked for every time.
// Every other address is the page: the front end finds its own way.
func AddWeb(e *echo.Echo, web fs.FS) error {
	if web == nil {
		return nil
	}
	index, err := fs.ReadFile(web, "index.html")
	if err != nil {
		return errors.New("the front end is not built: run make build")
	}
	sum := sha256.Sum256(index)
	tag := `"` + hex.EncodeToString(sum[:8]) + `"`
	e.GET("/*", func(c *echo.Context) error {
		h := c.Response().Header()
		name := strings.TrimPrefix(path.Clean(c.Request().URL.Path), "/")
		if name == "api" { // a page of its own
			name = "api.html"
		}
		if name != "" && name != "index.html" {
			if b, err := fs.ReadFile(web, name); err == nil {
				h.Set("Cache-Control", "no-cache")
				if strings.HasPrefix(name, "assets/") {
					h.Set("Cache-Control", "public, max-age=31536000, immutable")
				}
				return c.Blob(http.StatusOK, contentType(name), b)
			}
			if path.Ext(name) != "" {
				return echo.ErrNotFound
			}
		}
		h.Set("Cache-Control", "no-cache")
		h.Set("ETag", tag)
		if c.Request().Header.Get("If-None-Match") == tag {
			return c.NoContent(http.StatusNotModified)
		}
		return c.Blob(http.StatusOK, "text/html; charset=utf-8", index)
	})
	return nil
}

func contentType(name string) string {
	if path.Ext(name) == ".webmanifest" {
		return "application/manifest+json"
	}
	if t := mime.TypeByExtension(path.Ext(name)); t != "" {
		return t
	}
	return "application/octet-stream"
}
