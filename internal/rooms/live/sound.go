package live

import (
	"context"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/listen"
	"zorvel/internal/problem"
	"zorvel/internal/sound"
)

// NameSound names what howls in a recording; nothing is kept.
func (s *Room) NameSound(_ context.Context, r api.NameSoundRequestObject) (api.NameSoundResponseObject, error) {
	b := r.Body
	samples, rate, err := sound.Read(b.Sound)
	if err != nil {
		return nil, problem.Field("/sound", err.Error())
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
			return nil, fault.Under(f.at, err)
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
	a, err := listen.Work(q)
	if err != nil {
		return nil, err
	}
	return api.NameSound200JSONResponse(*a), nil
}
