package backup

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"zorvel/internal/store"
)

// Verify restores a backup into an empty scratch database, backs that up again and
// compares the two, table by table and byte by byte.
func Verify(ctx context.Context, scratch *store.Store, from io.ReaderAt, size int64) error {
	silent := func(string, int64, int64) {}
	if _, err := Read(ctx, scratch, from, size, silent); err != nil {
		return fmt.Errorf("restoring it for a check: %w", err)
	}
	again, err := os.CreateTemp("", "zorvel-verify-*.zip")
	if err != nil {
		return err
	}
	defer func() { _ = errors.Join(again.Close(), os.Remove(again.Name())) }()
	if _, err := Write(ctx, scratch, again, silent); err != nil {
		return fmt.Errorf("writing it again for a check: %w", err)
	}
	length, err := again.Seek(0, io.SeekEnd)
	if err != nil {
		return err
	}
	was, err := sums(from, size)
	if err != nil {
		return err
	}
	is, err := sums(again, length)
	if err != nil {
		return err
	}
	for name, sum := range was {
		if is[name] != sum {
			return fmt.Errorf("%s does not come back as it was", strings.TrimSuffix(strings.TrimPrefix(name, "tables/"), ".jsonl"))
		}
	}
	if len(is) != len(was) {
		return fmt.Errorf("%d tables come back as %d", len(was), len(is))
	}
	return nil
}

// sums are the hashes of a backup's tables.
func sums(from io.ReaderAt, size int64) (map[string][sha256.Size]byte, error) {
	z, err := zip.NewReader(from, size)
	if err != nil {
		return nil, err
	}
	out := map[string][sha256.Size]byte{}
	for _, f := range z.File {
		if !strings.HasPrefix(f.Name, "tables/") {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return nil, err
		}
		h := sha256.New()
		_, err = io.Copy(h, r)
		if err = errors.Join(err, r.Close()); err != nil {
			return nil, err
		}
		out[f.Name] = [sha256.Size]byte(h.Sum(nil))
	}
	return out, nil
}

// nightName is how a night's backup is named, so that its day can be read from its name.
const nightName = "shop-2006-01-02T150405.zip"

// NightFile names the backup of a moment.
func NightFile(at time.Time) string { return at.UTC().Format(nightName) }

// How long the backups of nights are kept: each for two weeks, then the last of a week
// for half a year, then the last of a month for good.
const (
	everyNight = 14 * 24 * time.Hour
	everyWeek  = 26 * 7 * 24 * time.Hour
)

// Superfluous are those of the files that the rule lets go. Files of other names are left
// alone, and the newest is never among them.
func Superfluous(files []string, now time.Time) []string {
	type night struct {
		file string
		at   time.Time
	}
	var nights []night
	for _, f := range files {
		if at, err := time.Parse(nightName, filepath.Base(f)); err == nil {
			nights = append(nights, night{f, at})
		}
	}
	slices.SortFunc(nights, func(a, b night) int { return b.at.Compare(a.at) })
	var out []string
	kept := map[string]bool{}
	for i, n := range nights {
		age := now.Sub(n.at)
		if i == 0 || age <= everyNight {
			continue
		}
		year, week := n.at.ISOWeek()
		span := fmt.Sprintf("week %d %d", year, week)
		if age > everyWeek {
			span = n.at.Format("month 2006 01")
		}
		if kept[span] {
			out = append(out, n.file)
		}
		kept[span] = true
	}
	return out
}
