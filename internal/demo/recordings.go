package demo

import (
	"context"
	"fmt"
	"sync"
	"time"

	"zorvel/api"
	"zorvel/core/listen"
	"zorvel/core/listen/drives"
	"zorvel/internal/sound"
	"zorvel/internal/store"
)

// humming is the van's drive that its job complains of, as it was recorded and named.
type humming struct {
	wav     []byte
	seconds float64
	named   string
	drive   api.SoundDrive
}

// hum is made once in a process: a rear wheel bearing, whose maker's sheet gives its tones
// per turn, above an axle that was changed on the mainland.
var hum = sync.OnceValues(func() (humming, error) {
	v := listen.Vehicle{Circumference: 2.19, Axle: &listen.Pair{Drive: 9, Driven: cappedTeeth}, Cylinders: 4,
		GearRatio: 1,
		Bearings:  []listen.Bearing{{Name: "rear", Outer: 7.3, Inner: 11.7}}}
	d, err := drives.Of(v, "rear wheel bearing, outer race", 9, 4)
	if err != nil {
		return humming{}, err
	}
	wav := sound.WAV(d.Question.Samples, int(d.Question.Rate))
	// The name is that of the file, not of what it was made from.
	d.Question.Samples, d.Question.Rate, err = sound.Read(wav)
	if err != nil {
		return humming{}, err
	}
	a, err := listen.Work(d.Question)
	if err != nil {
		return humming{}, err
	}
	return humming{wav, a.Seconds, a.Sentence, api.SoundDrive{Speed: &d.Question.Speed, Vehicle: v}}, nil
})

// recordings are a drive in the van that hums from sixty on.
func recordings(ctx context.Context, st *store.Store, now time.Time) error {
	van, _, err := st.Units(ctx, store.Asked{Name: "Tern 2"})
	if err != nil || len(van) == 0 {
		return fmt.Errorf("the van is not there: %w", err)
	}
	h, err := hum()
	if err != nil {
		return err
	}
	_, err = st.AddRecording(ctx, store.Recording{UnitID: van[0].ID, Key: "demo-recording", Title: "Hums from sixty on",
		Seconds: h.seconds, Drive: must(h.drive), Named: h.named, By: ivar, At: now.Add(-15 * time.Minute)}, h.wav)
	return err
}
