// Package archive reads zip archives that strangers may have made: their number of
// files, names and sizes are judged before anything of them is read, and no file
// gives more than it said.
package archive

import (
	"archive/zip"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"strings"
)

// ErrNoArchive is returned where it is no zip archive, or is cut off.
var ErrNoArchive = errors.New("this is no zip archive, or it is not whole")

// Limits of an archive.
type Limits struct {
	Files int   // at most
	Bytes int64 // of all files together, unpacked
}

// Archive is one that keeps its limits.
type Archive struct{ files map[string]*zip.File }

// Open judges an archive.
func Open(from io.ReaderAt, size int64, most Limits) (*Archive, error) {
	z, err := zip.NewReader(from, size)
	if err != nil && !errors.Is(err, zip.ErrInsecurePath) {
		return nil, ErrNoArchive
	}
	if len(z.File) > most.Files {
		return nil, fmt.Errorf("the archive holds %d files; at most %d", len(z.File), most.Files)
	}
	a := &Archive{files: make(map[string]*zip.File, len(z.File))}
	var sum uint64
	for _, f := range z.File {
		name := f.Name
		switch {
		case strings.HasSuffix(name, "/") && fs.ValidPath(strings.TrimSuffix(name, "/")):
			continue // a folder by itself
		case !fs.ValidPath(name) || strings.ContainsAny(name, `\:`) || len(name) > 200:
			return nil, fmt.Errorf("the name %.60q can't be used in an archive", name)
		case !f.Mode().IsRegular():
			return nil, fmt.Errorf("%s is no plain file", name)
		case a.files[name] != nil:
			return nil, fmt.Errorf("%s is in the archive twice", name)
		}
		if sum += f.UncompressedSize64; f.UncompressedSize64 > uint64(most.Bytes) || sum > uint64(most.Bytes) {
			return nil, fmt.Errorf("unpacked it would be over %d MB", most.Bytes>>20)
		}
		a.files[name] = f
	}
	return a, nil
}

// Has reports whether there is such a file.
func (a *Archive) Has(name string) bool { return a.files[name] != nil }

// Names lists the files, in order.
func (a *Archive) Names() []string {
	out := make([]string, 0, len(a.files))
	for n := range a.files {
		out = append(out, n)
	}
	slices.Sort(out)
	return out
}

// Read reads a file, up to so many bytes.
func (a *Archive) Read(name string, most int64) ([]byte, error) {
	f := a.files[name]
	if f == nil {
		return nil, fmt.Errorf("%s is missing in the archive", name)
	}
	if f.UncompressedSize64 > uint64(most) {
		return nil, fmt.Errorf("%s has over %d kB", name, most>>10)
	}
	r, err := f.Open()
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", name, err)
	}
	defer func() { _ = r.Close() }()
	// What unpacks to more than it says stops here.
	data, err := io.ReadAll(io.LimitReader(r, int64(f.UncompressedSize64)+1))
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", name, err)
	}
	if uint64(len(data)) != f.UncompressedSize64 {
		return nil, fmt.Errorf("%s is larger than it says", name)
	}
	return data, nil
}
