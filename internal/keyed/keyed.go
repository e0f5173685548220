// Package keyed has what was sent twice kept once, and what is judged kept at the
// revision that was judged.
package keyed

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"zorvel/api"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Content is a digest of what came under a key, the key itself apart: the same
// thing sent twice has the same one.
func Content(body any, key string) string {
	text, err := json.Marshal(body)
	if err != nil {
		return "" // nothing else has that: it is refused where the key was used
	}
	sum := sha256.Sum256([]byte(strings.Replace(string(text), fmt.Sprintf("%q:%q", "key", key), "", 1)))
	return hex.EncodeToString(sum[:])
}

// PhotoContent is Content of a picture, which is long.
func PhotoContent(b *api.NewPhoto) string {
	about := *b
	about.Image = Digest(b.Image)
	return Content(about, b.Key)
}

// Digest stands for a picture or a sound in what Content is made of.
func Digest(data []byte) []byte {
	sum := sha256.Sum256(data)
	return sum[:]
}

// Refused tells what the store says of something sent under a key: that something else came under it before (another
// line, another photo), or that others write to the unit.
func Refused(err error, what string) error {
	if errors.Is(err, store.ErrMoved) {
		return errMoved
	}
	var used *store.KeyError
	if errors.As(err, &used) {
		return problem.New(http.StatusConflict, "Used already",
			fmt.Sprintf("The key %q was sent with another %s before; that one is saved. Send this under a key of its own.", used.Key, what))
	}
	return err
}

var errMoved = problem.New(http.StatusConflict, "Changed meanwhile",
	"Others are writing to this unit just now. Look at what is open again, then close.")

// mostJudged is how often something is judged anew because its unit was written to
// meanwhile.
const mostJudged = 6

// Judged has something judged and kept at one revision of a unit: what is read in
// between is what stands when it is kept.
func Judged(ctx context.Context, st *store.Store, unit int64, keep func(store.Revision) error) error {
	for try := 1; ; try++ {
		rev, err := st.Revision(ctx, unit)
		if err != nil {
			return err
		}
		if err := keep(rev); try == mostJudged || !errors.Is(err, store.ErrMoved) {
			return err
		}
	}
}
