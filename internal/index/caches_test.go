package index

import (
	"fmt"
	"sync"
	"sync/atomic"
	"testing"

	"zorvel/core/identify"
)

// Many who ask for one space at once make it once.
func TestOneSpaceForAll(t *testing.T) {
	c := newSpaceCache(64 << 20)
	var made atomic.Int32
	hold := make(chan struct{})
	var all sync.WaitGroup
	got := make([]*identify.Space, 50)
	for i := range got {
		all.Go(func() {
			got[i], _ = c.get("two stages", func() (*identify.Space, error) {
				made.Add(1)
				<-hold
				return identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
			})
		})
	}
	close(hold)
	all.Wait()
	if made.Load() != 1 {
		t.Errorf("made %d times", made.Load())
	}
	for _, sp := range got {
		if sp == nil || sp != got[0] {
			t.Fatal("not everyone got the same one")
		}
	}
}

func TestSpacesAreBoundedInBytes(t *testing.T) {
	one, err := identify.NewSpace(identify.Stage{Kind: identify.GearPair})
	if err != nil {
		t.Fatal(err)
	}
	c := newSpaceCache(3*one.Bytes() + 1)
	for i := range 20 {
		if _, err := c.get(fmt.Sprint(i), func() (*identify.Space, error) { return identify.NewSpace(one.Stage) }); err != nil {
			t.Fatal(err)
		}
		if c.bytes > c.most || c.bytes != c.kept.Len()*one.Bytes() {
			t.Fatalf("%d bytes of %d in %d spaces", c.bytes, c.most, c.kept.Len())
		}
	}
	if c.kept.Len() != 3 || !c.kept.Contains("19") {
		t.Errorf("kept %v", c.kept.Keys())
	}
	if _, err := c.get("bad", func() (*identify.Space,
		error) {
		return identify.NewSpace(identify.Stage{Kind: "magic"})
	}); err == nil || c.kept.Contains("bad") {
		t.Errorf("a stage that can't be was kept: %v", err)
	}
}
