package server_test

import (
	"encoding/base64"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"zorvel/internal/testkit"
)

// repeated is a long text that takes no memory at its sender.
func repeated(head, line, tail string, n int) io.Reader {
	parts := make([]io.Reader, 0, n+2)
	parts = append(parts, strings.NewReader(head))
	for range n {
		parts = append(parts, strings.NewReader(line))
	}
	return io.MultiReader(append(parts, strings.NewReader(tail))...)
}

// Many large bodies of strangers at once take what a few may: the rest waits on
// disk, or is told to come back.
func TestManyLargeBodies(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	var peak atomic.Uint64
	stop := make(chan struct{})
	var watching sync.WaitGroup
	watching.Go(func() {
		var m runtime.MemStats
		for {
			select {
			case <-stop:
				return
			case <-time.After(20 * time.Millisecond):
				runtime.ReadMemStats(&m)
				if m.HeapInuse > peak.Load() {
					peak.Store(m.HeapInuse)
				}
			}
		}
	})
	line := strings.Repeat("x", 1<<15)
	var wg sync.WaitGroup
	var answered, later atomic.Int64
	for i := range 40 {
		wg.Go(func() {
			// Neither well nor badly formed ones: each is 15 MB before that is known.
			tail := `"}`
			if i%2 == 0 {
				tail = `"`
			}
			req, err := http.NewRequestWithContext(t.Context(), "POST", srv.URL+"/api/v1/calc/propeller/recorded", repeated(`{"text":"`, line, tail, 480))
			if err != nil {
				t.Error(err)
				return
			}
			req.Header.Set("Content-Type", "application/json")
			res, err := http.DefaultClient.Do(req)
			if err != nil {
				t.Error(err)
				return
			}
			_, _ = io.Copy(io.Discard, res.Body)
			_ = res.Body.Close()
			switch {
			case res.StatusCode == 429:
				later.Add(1)
			case res.StatusCode < 500:
				answered.Add(1)
			default:
				t.Errorf("%d", res.StatusCode)
			}
		})
	}
	wg.Wait()
	close(stop)
	watching.Wait()
	if mb := peak.Load() >> 20; mb > 700 {
		t.Errorf("%d MB at once", mb)
	}
	if answered.Load() == 0 || answered.Load()+later.Load() != 40 {
		t.Errorf("%d answered, %d told to come back", answered.Load(), later.Load())
	}
}

// Those who send slowly keep nobody waiting who has all of it.
func TestSlowUploadsBlockNobody(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	archive := c.want(200, "GET", "/api/v1/units/3/document.zip", "").body
	cookie := ""
	for _, k := range c.http.Jar.Cookies(mustURL(t, srv.URL)) {
		cookie += k.Name + "=" + k.Value + "; "
	}
	address := strings.TrimPrefix(srv.URL, "http://")
	for range 4 {
		conn := peer(t, address, fmt.Sprintf("POST /api/v1/units/import-zip HTTP/1.1\r\nHost: %s\r\nCookie: %s\r\nContent-Type: application/zip\r\nContent-Length: %d\r\n\r\nPK", address, cookie, len(archive)))
		_ = conn
	}
	began := time.Now()
	req, err := http.NewRequestWithContext(t.Context(), "POST", srv.URL+"/api/v1/units/import-zip", strings.NewReader(string(archive)))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/zip")
	res, err := c.http.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	told, _ := io.ReadAll(res.Body)
	_ = res.Body.Close()
	if took := time.Since(began); res.StatusCode != 201 || took > 15*time.Second {
		t.Errorf("after %v: %d %s", took, res.StatusCode, told)
	}
}

// A picture that is none is refused at its field, for little.
func TestRefusedPhotosAreCheap(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	text := base64.StdEncoding.EncodeToString([]byte(strings.Repeat("no picture ", 1<<20)))
	for i, image := range []string{text, text[:len(text)-9] + "*" + text[len(text)-8:], text + "===="} {
		a := c.do("POST", "/api/v1/units/1/photos", fmt.Sprintf(`{"key":"photo-%d-key","image":"%s"}`, i, image))
		if a.status != 422 || a.field() != "/image" {
			t.Errorf("%d: %d at %q: %.200s", i, a.status, a.field(), a.body)
		}
	}
}

func mustURL(t *testing.T, text string) *url.URL {
	t.Helper()
	u, err := url.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return u
}
