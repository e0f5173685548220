package store_test

import (
	"bytes"
	"errors"
	"fmt"
	"testing"
	"time"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// Recordings that many send at once are each saved once, a unit never has more than it
// may, and another recording under a used key is refused.
func TestManyHandsRecord(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 1)
	of := func(key, content string) store.Recording {
		return store.Recording{UnitID: u.ID, Key: key, Content: content, Title: "Hums from sixty on", Seconds: 14,
			Drive: []byte(`{"vehicle":{"rolling_m":2.2}}`), Named: "Loudest: tire.", By: "Oda"}
	}
	wav := bytes.Repeat([]byte{7}, 1000)
	ids := make([]int64, 16)
	for i, err := range together(16, func(i int) (err error) {
		ids[i], err = st.AddRecording(ctx, of("the same drive", "a"), wav)
		return err
	}) {
		if err != nil || ids[i] != ids[0] {
			t.Errorf("hand %d: recording %d and %d, %v", i, ids[i], ids[0], err)
		}
	}
	var used *store.KeyError
	if _, err := st.AddRecording(ctx, of("the same drive", "b"), wav); !errors.As(err, &used) {
		t.Errorf("another under a used key: %v", err)
	}
	full := 0
	for _, err := range together(store.MostRecordings+4, func(i int) error {
		_, err := st.AddRecording(ctx, of(fmt.Sprint("drive ", i), "c"), wav)
		return err
	}) {
		switch {
		case errors.Is(err, store.ErrInUse):
			full++
		case err != nil:
			t.Error(err)
		}
	}
	list, err := st.Recordings(ctx, u.ID)
	if err != nil || len(list) != store.MostRecordings || full != 5 {
		t.Errorf("%d recordings, %d refused, %v", len(list), full, err)
	}
	got, err := st.Recording(ctx, ids[0])
	if err != nil || got.Bytes != len(wav) || got.Seconds != 14 || got.Named != "Loudest: tire." || got.At.IsZero() {
		t.Errorf("%+v, %v", got, err)
	}
	if data, err := st.Sound(ctx, ids[0]); err != nil || !bytes.Equal(data, wav) {
		t.Errorf("%d bytes of sound, %v", len(data), err)
	}
	if _, err := st.AddRecording(ctx, store.Recording{UnitID: 9999, Key: "nowhere", Drive: []byte("{}")},
		wav); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("of no unit: %v", err)
	}
}

// An import whose sound can't be read leaves nothing behind; one that can keeps what was
// heard, with its own date.
func TestImportRecording(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	at := time.Date(2026, 3, 4, 5, 6, 7, 0, time.UTC)
	in := store.Import{Unit: store.Unit{Name: "Heard", Kind: "truck"}, By: "Oda", Driveline: testkit.Chain(t, 1),
		Heard: []store.ImportRecording{{Recording: store.Recording{Title: "Hums", Drive: []byte("{}"), By: "Ivar",
			At: at},
			WAV: func() ([]byte, error) { return nil, errors.New("no sound") }}}}
	if _, err := st.ImportUnit(ctx, in); err == nil {
		t.Fatal("a sound that can't be read was imported")
	}
	if _, n, err := st.Units(ctx, store.Asked{Name: "Heard"}); err != nil || n != 0 {
		t.Errorf("%d units are left, %v", n, err)
	}
	in.Heard[0].WAV = func() ([]byte, error) { return []byte("RIFF"), nil }
	id, err := st.ImportUnit(ctx, in)
	if err != nil {
		t.Fatal(err)
	}
	list, err := st.Recordings(ctx, id)
	if err != nil || len(list) != 1 || !list[0].At.Equal(at) || list[0].By != "Ivar" {
		t.Errorf("%+v, %v", list, err)
	}
}
