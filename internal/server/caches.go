package server

import (
	"fmt"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/hashicorp/golang-lru/v2/simplelru"
	"golang.org/x/sync/singleflight"

	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/internal/store"
)

// caches keeps what is costly to compute and never changes by itself: the
// spaces of builds by stage, and verdicts by stage and evidence. It is a cache
// only; every server has its own.
type caches struct {
	spaces    *spaceCache // by stage
	shop      *spaceCache // by stage and the shop's catalog
	summaries *lru.Cache[string, summary]
	lists     *lru.Cache[string, []store.CatalogRow]
	shops     *lru.Cache[[2]int64, shop] // by the state of the list of gear sets, and of what was counted
}

// Bytes of spaces that are kept: those of all kinds of stage take about 30 MB.
const (
	spaceBytes = 64 << 20
	shopBytes  = 96 << 20
)

// spaceCache keeps the spaces that were asked for last, within a number of
// bytes. Those who ask for the same one at once wait for one answer.
type spaceCache struct {
	flight singleflight.Group
	mu     sync.Mutex
	kept   *simplelru.LRU[string, *identify.Space]
	bytes  int
	most   int
}

func newSpaceCache(most int) *spaceCache {
	c := &spaceCache{most: most}
	var err error
	// The number of entries is bounded too: small spaces are many.
	c.kept, err = simplelru.NewLRU(500, func(_ string, sp *identify.Space) { c.bytes -= sp.Bytes() })
	must(err)
	return c
}

func (c *spaceCache) get(key string, make func() (*identify.Space, error)) (*identify.Space, error) {
	look := func() (*identify.Space, bool) {
		c.mu.Lock()
		defer c.mu.Unlock()
		return c.kept.Get(key)
	}
	if sp, ok := look(); ok {
		return sp, nil
	}
	v, err, _ := c.flight.Do(key, func() (any, error) {
		if sp, ok := look(); ok { // made since
			return sp, nil
		}
		sp, err := make()
		if err != nil {
			return nil, err
		}
		c.mu.Lock()
		defer c.mu.Unlock()
		c.kept.Add(key, sp)
		for c.bytes += sp.Bytes(); c.bytes > c.most && c.kept.Len() > 1; {
			c.kept.RemoveOldest()
		}
		return sp, nil
	})
	if err != nil {
		return nil, err
	}
	return v.(*identify.Space), nil
}

func must(err error) {
	if err != nil { // only a size below one fails
		panic(err)
	}
}

func newCaches() *caches {
	k := &caches{spaces: newSpaceCache(spaceBytes), shop: newSpaceCache(shopBytes)}
	var err error
	k.summaries, err = lru.New[string, summary](5000)
	must(err)
	k.lists, err = lru.New[string, []store.CatalogRow](16)
	must(err)
	k.shops, err = lru.New[[2]int64, shop](2)
	must(err)
	return k
}

// warm builds the large spaces ahead of the first question.
func (k *caches) warm() {
	for _, kind := range identify.Kinds() {
		for _, pos := range bench.Positions(kind) {
			_, _ = k.space(identify.Stage{Kind: kind, Position: pos})
		}
	}
}

func (k *caches) space(s identify.Stage) (*identify.Space, error) {
	n := s.Normal()
	return k.spaces.get(fmt.Sprintf("%q", n), func() (*identify.Space, error) { return identify.NewSpace(n) })
}
