package recordings

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/listen"
	"zorvel/internal/keyed"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/sound"
	"zorvel/internal/store"
)

var errFull = problem.New(http.StatusConflict, "Full",
	fmt.Sprintf("A unit has at most %d recordings.", store.MostRecordings))

// NameSound names what howls in a recording; nothing is saved.
func (s *Room) NameSound(_ context.Context, r api.NameSoundRequestObject) (api.NameSoundResponseObject, error) {
	q, err := question(r.Body)
	if err != nil {
		return nil, err
	}
	a, err := listen.Work(q)
	if err != nil {
		return nil, err
	}
	return api.NameSound200JSONResponse(*a), nil
}

// question reads what was sent: the sound, and the speed in one of its forms.
func question(b *api.SoundQuestion) (listen.Question, error) {
	samples, rate, err := sound.Read(b.Sound)
	if err != nil {
		return listen.Question{}, fault.New("sound", "%v", err)
	}
	q := listen.Question{Samples: samples, Rate: rate, Constant: api.Value(b.ConstantKmh), Vehicle: b.Vehicle}
	for _, f := range []struct {
		at   string
		text *string
	}{{"speed_csv", b.SpeedCsv}, {"rpm_csv", b.RpmCsv}} {
		if api.Value(f.text) == "" {
			continue
		}
		speed, rpm, err := listen.ReadCSV(*f.text)
		if err != nil {
			return listen.Question{}, fault.Under(f.at, err)
		}
		if len(speed) > 0 {
			q.Speed = speed
		}
		if len(rpm) > 0 {
			q.RPM = rpm
		}
	}
	if b.Speed != nil {
		q.Speed = *b.Speed
	}
	if b.Rpm != nil {
		q.RPM = *b.Rpm
	}
	return q, nil
}

// ListRecordings lists a unit's recordings.
func (s *Room) ListRecordings(ctx context.Context, r api.ListRecordingsRequestObject) (api.ListRecordingsResponseObject,
	error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.Recordings(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := api.ListRecordings200JSONResponse{}
	for _, x := range list {
		out = append(out, brief(x))
	}
	return out, nil
}

func brief(x store.Recording) api.Recording {
	return api.Recording{Id: x.ID, UnitId: x.UnitID, Title: x.Title, Seconds: x.Seconds, Bytes: x.Bytes, Named: x.Named,
		By: x.By, At: x.At}
}

// AddRecording names a recording and saves it with its unit.
func (s *Room) AddRecording(ctx context.Context, r api.AddRecordingRequestObject) (api.AddRecordingResponseObject,
	error) {
	b := r.Body
	title := strings.TrimSpace(b.Title)
	if title == "" {
		return nil, problem.Field("/title", "what was driven or heard, as \"Hums from sixty on\"")
	}
	q, err := question(&b.Question)
	if err != nil {
		return nil, fault.Under("question", err)
	}
	a, err := listen.Work(q)
	if err != nil {
		return nil, fault.Under("question", err)
	}
	wav, seconds, err := sound.Plain(b.Question.Sound)
	if err != nil {
		return nil, problem.Field("/question/sound", err.Error())
	}
	drive, err := json.Marshal(api.SoundDrive{Speed: some(q.Speed), Rpm: some(q.RPM),
		ConstantKmh: b.Question.ConstantKmh,
		Vehicle:     q.Vehicle})
	if err != nil {
		return nil, err
	}
	id, err := s.store.AddRecording(ctx, store.Recording{UnitID: r.Id, Key: b.Key, Content: content(b), Title: title,
		Seconds: seconds, Drive: drive, Named: a.Sentence, By: signin.Person(ctx).Name}, wav)
	if errors.Is(err, store.ErrInUse) {
		return nil, errFull
	}
	if err != nil {
		return nil, keyed.Refused(err, "recording")
	}
	out, err := s.recording(ctx, id)
	return api.AddRecording201JSONResponse(out), err
}

// content is the digest of what was sent.
func content(b *api.NewRecording) string {
	about := *b
	about.Question.Sound = keyed.Digest(b.Question.Sound)
	return keyed.Content(about, b.Key)
}

func some(list []listen.Reading) *[]listen.Reading {
	if len(list) == 0 {
		return nil
	}
	return &list
}

func (s *Room) recording(ctx context.Context, id int64) (api.Recording, error) {
	x, err := s.store.Recording(ctx, id)
	if err != nil {
		return api.Recording{}, err
	}
	out := brief(x)
	var drive api.SoundDrive
	if json.Unmarshal(x.Drive, &drive) == nil && drive.Vehicle.Circumference > 0 {
		out.Drive = &drive // the sound is worth hearing without
	}
	return out, nil
}

// GetRecording returns a recording without its sound.
func (s *Room) GetRecording(ctx context.Context, r api.GetRecordingRequestObject) (api.GetRecordingResponseObject,
	error) {
	out, err := s.recording(ctx, r.Id)
	return api.GetRecording200JSONResponse(out), err
}

// GetSound returns the sound itself.
func (s *Room) GetSound(ctx context.Context, r api.GetSoundRequestObject) (api.GetSoundResponseObject, error) {
	data, err := s.store.Sound(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.GetSound200AudiowavResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}
