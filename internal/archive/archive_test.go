package archive_test

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zorvel/internal/archive"
)

type entry struct {
	name, text string
	mode       fs.FileMode
}

func packed(t testing.TB, entries ...entry) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, e := range entries {
		h := &zip.FileHeader{Name: e.name, Method: zip.Deflate}
		if e.mode != 0 {
			h.SetMode(e.mode)
		}
		w, err := z.CreateHeader(h)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := io.WriteString(w, e.text); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

var usual = archive.Limits{Files: 10, Bytes: 1 << 20}

func open(data []byte) (*archive.Archive, error) {
	return archive.Open(bytes.NewReader(data), int64(len(data)), usual)
}

func TestReads(t *testing.T) {
	a, err := open(packed(t, entry{name: "b.txt", text: "two"}, entry{name: "a/", text: ""}, entry{name: "a/a.txt", text: "one"}))
	if err != nil {
		t.Fatal(err)
	}
	if got := a.Names(); !slices.Equal(got, []string{"a/a.txt", "b.txt"}) {
		t.Errorf("%v", got)
	}
	if text, err := a.Read("a/a.txt", 10); err != nil || string(text) != "one" {
		t.Errorf("%q, %v", text, err)
	}
	if !a.Has("b.txt") || a.Has("c.txt") {
		t.Error("what it has is told wrongly")
	}
	if _, err := a.Read("c.txt", 10); err == nil {
		t.Error("a file that isn't there was read")
	}
	if _, err := a.Read("b.txt", 2); err == nil {
		t.Error("a file was read over its bound")
	}
}

func TestHostileArchives(t *testing.T) {
	whole := packed(t, entry{name: "a.txt", text: strings.Repeat("one", 100)})
	var many []entry
	for i := range 11 {
		many = append(many, entry{name: fmt.Sprint(i), text: "x"})
	}
	for name, data := range map[string][]byte{
		"nothing":       nil,
		"no zip":        []byte("hello, hello, hello, hello, hello, hello"),
		"half":          whole[:len(whole)/2],
		"without end":   whole[:len(whole)-5],
		"upward":        packed(t, entry{name: "../a.txt"}),
		"from the root": packed(t, entry{name: "/etc/passwd"}),
		"backslash":     packed(t, entry{name: `..\a.txt`}),
		"a drive":       packed(t, entry{name: "C:a.txt"}),
		"no name":       packed(t, entry{name: ""}),
		"in between":    packed(t, entry{name: "a/../../b"}),
		"twice":         packed(t, entry{name: "a"}, entry{name: "a"}),
		"a link":        packed(t, entry{name: "a", text: "/etc/passwd", mode: fs.ModeSymlink | 0o777}),
		"too many":      packed(t, many...),
		"too large":     packed(t, entry{name: "a", text: strings.Repeat("0", 1<<20)}, entry{name: "b", text: "1"}),
		"a bomb":        packed(t, entry{name: "a", text: strings.Repeat("0", 40<<20)}),
	} {
		if _, err := open(data); err == nil {
			t.Errorf("%s: taken", name)
		}
	}
	if _, err := open(whole[:len(whole)-5]); !errors.Is(err, archive.ErrNoArchive) {
		t.Errorf("%v", err)
	}
}

// An archive that says less than it unpacks to gives an error, not more.
func TestLiesAboutItsSize(t *testing.T) {
	data := packed(t, entry{name: "a", text: strings.Repeat("0", 1000)})
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	if z.File[0].UncompressedSize64 != 1000 {
		t.Fatal(z.File[0].UncompressedSize64)
	}
	// The size stands in the central directory, after the file.
	dir := bytes.LastIndex(data, []byte("PK\x01\x02"))
	lying := slices.Clone(data)
	lying[dir+24], lying[dir+25] = 10, 0
	a, err := open(lying)
	if err != nil {
		t.Fatal(err)
	}
	if text, err := a.Read("a", 1<<20); err == nil {
		t.Errorf("gave %d bytes", len(text))
	}
}

// No archive, however broken, makes it panic or give more than it may.
func TestBrokenAnywhere(t *testing.T) {
	data := packed(t, entry{name: "a/b.json", text: `{"a":[1,2,3]}`}, entry{name: "c", text: strings.Repeat("z", 5000)})
	rnd := rand.New(rand.NewPCG(1, 2))
	for range 3000 {
		x := slices.Clone(data)
		for range 1 + rnd.IntN(4) {
			x[rnd.IntN(len(x))] = byte(rnd.IntN(256))
		}
		a, err := open(x[:len(x)-rnd.IntN(3)])
		if err != nil {
			continue
		}
		for _, n := range a.Names() {
			if text, err := a.Read(n, 1<<20); err == nil && len(text) > 1<<20 {
				t.Errorf("%q gave %d bytes", n, len(text))
			}
		}
	}
}
