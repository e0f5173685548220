package server_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"math"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"zorvel/core/live"
	"zorvel/internal/demo"
	"zorvel/internal/sensors"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

const liveNew = `{"title":"Rear axle","setup":{"channels":[
	{"channel":1,"shaft":"shaft","marks":8},{"channel":2,"shaft":"left","marks":8},{"channel":3,"shaft":"right","marks":8}]}}`

const livePhones = `{"title":"Rear axle","setup":{"channels":[],"other":{"does":"with","seen":true},"one_way":true}}`

type liveState struct {
	ID       int64
	Ended    bool
	Kept     bool
	Revision int64
	Version  int
	Points   int
	Phones   []string
	Answer   live.Answer
	Reading  *struct {
		Shaft, Output, Spread float64
		Session               string
	}
	Sensors struct {
		Configured, Connected bool
		Trouble               string
		Channels              []int
	}
}

// liveCount is a session that a phone joined for the left wheel.
type liveCount struct{ id, secret, token string }

func (s shopOf) live() liveCount { return openLive(s.t, s.owner, livePhones, "left") }

func openLive(t testing.TB, c *client, body string, shafts ...string) liveCount {
	t.Helper()
	var opened struct {
		State  liveState
		Secret string
	}
	c.want(201, "POST", "/api/v1/live", body).json(t, &opened)
	out := liveCount{id: fmt.Sprint(opened.State.ID), secret: opened.Secret}
	for _, shaft := range shafts {
		out.token = joinLive(t, newClient(t, c.base), out, shaft)
	}
	return out
}

func joinLive(t testing.TB, phone *client, x liveCount, shaft string) string {
	t.Helper()
	var joined struct{ Token string }
	phone.want(200, "POST", "/api/v1/live/"+x.id+"/join", fmt.Sprintf(`{"secret":%q,"shaft":%q}`, x.secret,
		shaft)).json(t, &joined)
	return joined.Token
}

// sendMotion sends what a simulated phone senses, in pieces as a phone does.
func sendMotion(t testing.TB, phone *client, id, token string, list []live.Motion) {
	t.Helper()
	for piece := range slices.Chunk(list, 400) {
		body, err := json.Marshal(map[string]any{"token": token, "motion": piece})
		if err != nil {
			t.Fatal(err)
		}
		phone.want(200, "POST", "/api/v1/live/"+id+"/points", string(body))
	}
}

// events follows a session until a state is as asked.
func events(t *testing.T, c *client, id string, until func(liveState) bool) liveState {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), time.Minute)
	defer cancel()
	var res *http.Response
	for { // a place that was left is free in a moment
		req, err := http.NewRequestWithContext(ctx, "GET", c.base+"/api/v1/live/"+id+"/events", nil)
		if err != nil {
			t.Fatal(err)
		}
		if res, err = c.http.Do(req); err != nil {
			t.Fatal(err)
		}
		if res.StatusCode != 503 {
			break
		}
		_ = res.Body.Close()
	}
	defer func() { _ = res.Body.Close() }()
	if res.StatusCode != 200 || res.Header.Get("Content-Type") != "text/event-stream" {
		t.Fatalf("%d %s", res.StatusCode, res.Header.Get("Content-Type"))
	}
	lines := bufio.NewScanner(res.Body)
	lines.Buffer(nil, 1<<20)
	last := int64(-1)
	for lines.Scan() {
		text, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		var s liveState
		if err := json.Unmarshal([]byte(text), &s); err != nil {
			t.Fatal(err)
		}
		if s.Revision < last {
			t.Errorf("revision %d came after %d", s.Revision, last)
		}
		last = s.Revision
		if until(s) {
			return s
		}
	}
	t.Fatalf("the events ended: %v", lines.Err())
	return liveState{}
}

// Two phones, on a wheel and on the driveshaft, count an axle: no mark, no account.
func TestPhonesCountLive(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	x := openLive(t, oda, livePhones)
	rng := rand.New(rand.NewPCG(1, 1))
	turning := live.Turning{Ratio: 41.0 / 11, Wheels: live.BothTurn, Turns: 8, Speed: 0.4, Phones: true}
	rec := turning.Run(rng).Recording
	wheel, shaft := newClient(t, srv.URL), newClient(t, srv.URL)
	sendMotion(t, shaft, x.id, joinLive(t, shaft, x, "shaft"), rec.Sources[0].Motion)
	sendMotion(t, wheel, x.id, joinLive(t, wheel, x, "left"), rec.Sources[1].Motion)
	got := events(t, oda, x.id, func(s liveState) bool { return s.Answer.Ratio != nil && s.Answer.Ratio.Output > 6 })
	if r := got.Answer.Ratio; r.Low > 41.0/11 || r.High < 41.0/11 || len(r.Conditions) != 0 || got.Reading == nil ||
		got.Reading.Session != x.id {
		t.Errorf("%+v, reading %+v", r, got.Reading)
	}
	if len(got.Phones) != 2 {
		t.Errorf("phones: %v", got.Phones)
	}
	// What came is there to be weighed again, as points and as a file.
	file := oda.want(200, "GET", "/api/v1/live/"+x.id+"/recording.csv", "")
	body, _ := json.Marshal(map[string]any{"recording": map[string]any{"sources": []int{},
		"other": map[string]any{"does": "with", "seen": true}, "one_way": true}, "csv": string(file.body)})
	var again struct{ Live live.Answer }
	newClient(t, srv.URL).want(200, "POST", "/api/v1/calc/live", string(body)).json(t, &again)
	if again.Live.Ratio == nil || math.Abs(again.Live.Ratio.Best-got.Answer.Ratio.Best) > 0.02 {
		t.Errorf("from the file: %+v, then %+v", again.Live.Ratio, got.Answer.Ratio)
	}
	// Ended and kept: phones may add no more, and what came stays.
	oda.want(200, "POST", "/api/v1/live/"+x.id+"/end", `{"kept":true}`)
	if a := wheel.do("POST", "/api/v1/live/"+x.id+"/points", `{"token":"`+strings.Repeat("A",
		26)+`","motion":[]}`); a.status != 403 {
		t.Errorf("after the end: %d %s", a.status, a.body)
	}
	var rec2 live.Recording
	oda.want(200, "GET", "/api/v1/live/"+x.id+"/recording", "").json(t, &rec2)
	if len(rec2.Sources) != 2 || len(rec2.Sources[0].Motion) != len(rec.Sources[0].Motion) {
		t.Errorf("%d sources come back", len(rec2.Sources))
	}
}

// A joined phone adds to its shaft of its count, and can do nothing else.
func TestJoinedPhoneIsConfined(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	x, y := openLive(t, oda, livePhones), openLive(t, oda, livePhones)
	phone := newClient(t, srv.URL)
	token := joinLive(t, phone, x, "left")
	motion := `"motion":[{"at":1,"rate":[0,0,1],"accel":[0,9.8,0]}]`
	for what, a := range map[string]answer{
		"look at the count":    phone.do("GET", "/api/v1/live/"+x.id, ""),
		"follow it":            phone.do("GET", "/api/v1/live/"+x.id+"/events", ""),
		"list counts":          phone.do("GET", "/api/v1/live", ""),
		"end it":               phone.do("POST", "/api/v1/live/"+x.id+"/end", `{"kept":false}`),
		"clear it":             phone.do("POST", "/api/v1/live/"+x.id+"/clear", ""),
		"read units":           phone.do("GET", "/api/v1/units", ""),
		"add to another count": phone.do("POST", "/api/v1/live/"+y.id+"/points", `{"token":"`+token+`",`+motion+`}`),
		"join by its token": phone.do("POST", "/api/v1/live/"+y.id+"/join",
			`{"secret":"`+token+`","shaft":"left"}`),
		"join another's": phone.do("POST", "/api/v1/live/"+y.id+"/join",
			`{"secret":"`+x.secret+`","shaft":"left"}`),
		"join what isn't there": phone.do("POST", "/api/v1/live/999999/join",
			`{"secret":"`+x.secret+`","shaft":"left"}`),
		"send with a wrong one": phone.do("POST", "/api/v1/live/"+x.id+"/points",
			`{"token":"`+x.secret+`",`+motion+`}`),
		"send to what isn't any": phone.do("POST", "/api/v1/live/999999/points", `{"token":"`+token+`",`+motion+`}`),
	} {
		if a.status != 401 && a.status != 403 {
			t.Errorf("a phone may %s: %d %.120s", what, a.status, a.body)
		}
	}
	// Another phone for the same shaft takes its place.
	joinLive(t, newClient(t, srv.URL), x, "left")
	if a := phone.do("POST", "/api/v1/live/"+x.id+"/points", `{"token":"`+token+`",`+motion+`}`); a.status != 403 {
		t.Errorf("the phone that was replaced: %d", a.status)
	}
}

// A phone that floods is held back, the others aren't; what can't be weighed isn't kept.
func TestPhonesAreBounded(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	x := openLive(t, oda, livePhones)
	phone := newClient(t, srv.URL)
	token := joinLive(t, phone, x, "left")
	send := func(motion string) answer {
		return phone.do("POST", "/api/v1/live/"+x.id+"/points", `{"token":"`+token+`","motion":`+motion+`}`)
	}
	falls := send(`[{"at":2,"rate":[0,0,1],"accel":[0,9.8,0]},{"at":1,"rate":[0,0,1],"accel":[0,9.8,0]}]`)
	if a := falls; a.status != 422 || a.field() != "/motion/1/at" {
		t.Errorf("time falls: %d at %s", a.status, a.field())
	}
	if a := send(`[{"at":1,"rate":[0,0,1e9],"accel":[0,9.8,0]}]`); a.status != 422 || a.field() != "/motion/0/rate" {
		t.Errorf("an impossible rate: %d at %s", a.status, a.field())
	}
	held := 0
	for i := range 120 {
		if a := send(fmt.Sprintf(`[{"at":%d,"rate":[0,0,1],"accel":[0,9.8,0]}]`, i)); a.status == 429 {
			held++
		} else if a.status != 200 {
			t.Fatalf("%d %s", a.status, a.body)
		}
	}
	if held == 0 {
		t.Error("a phone that floods is never held back")
	}
	other := newClient(t, srv.URL)
	sendMotion(t, other, x.id, joinLive(t, other, x, "shaft"), []live.Motion{{At: 1}})
}

// quick is an axle turned so fast that a test needn't wait for a hand.
func quick() live.Turning {
	t := sensors.Van()
	t.Speed, t.Turns, t.Rests, t.Back = 3, 400, false, false
	return t
}

// Shaft sensors count an open session through two servers before one database: one of
// them records, both tell, and when the sensors are killed and come back in mid-turn
// nothing is guessed over the gap.
func TestSensorsCountLive(t *testing.T) {
	_, st := testkit.Server(t, true)
	device, err := sensors.Start("127.0.0.1:0", quick())
	if err != nil {
		t.Fatal(err)
	}
	addr := device.Addr()
	var clients []*client
	for range 2 {
		s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler), Sensors: addr,
			DemoAccounts: demo.Accounts()})
		if err != nil {
			t.Fatal(err)
		}
		s.FollowDevices(t.Context())
		hs := httptest.NewServer(s.Handler())
		t.Cleanup(hs.Close)
		t.Cleanup(s.Close)
		clients = append(clients, as(t, hs.URL, "oda"))
	}
	x := openLive(t, clients[0], liveNew)
	both := func(what string, until func(liveState) bool) {
		t.Helper()
		for i, c := range clients {
			got := events(t, c, x.id, until)
			// One in twenty ranges misses; none by its width again.
			if r := got.Answer.Ratio; r != nil && r.Events > 20 && math.Abs(r.Best-quick().Ratio) > r.High-r.Low {
				t.Errorf("%s, server %d: %+v", what, i, r)
			}
		}
	}
	both("counting", func(s liveState) bool {
		return s.Answer.Ratio != nil && s.Answer.Ratio.Output > 5 && s.Sensors.Connected && len(s.Sensors.Channels) == 3
	})
	if err := device.Close(); err != nil {
		t.Fatal(err)
	}
	both("killed", func(s liveState) bool { return !s.Sensors.Connected && s.Sensors.Trouble != "" })
	var before liveState
	clients[0].want(200, "GET", "/api/v1/live/"+x.id, "").json(t, &before)
	again, err := sensors.Start(addr, quick())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = again.Close() })
	both("back", func(s liveState) bool { return s.Sensors.Connected && s.Points > before.Points+200 })
	// Started over, it counts from nothing; ended, nothing comes any more.
	var after liveState
	clients[1].want(200, "POST", "/api/v1/live/"+x.id+"/end", `{"kept":false}`).json(t, &after)
	var list struct{ Counts []struct{ ID int64 } }
	clients[0].want(200, "GET", "/api/v1/live", "").json(t, &list)
	if len(list.Counts) == 0 || !after.Ended {
		t.Errorf("%+v, %+v", list, after)
	}
	clients[0].want(409, "POST", "/api/v1/live/"+x.id+"/clear", "")
	clients[0].want(409, "PUT", "/api/v1/live/"+x.id, `{"version":1,"setup":{"channels":[]}}`)
}

// Starting over forgets what came; a setup changed by somebody else is refused.
func TestLiveStartsOver(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	x := openLive(t, oda, livePhones)
	phone := newClient(t, srv.URL)
	token := joinLive(t, phone, x, "left")
	sendMotion(t, phone, x.id, token, []live.Motion{{At: 1}, {At: 2}})
	var s liveState
	oda.want(200, "POST", "/api/v1/live/"+x.id+"/clear", "").json(t, &s)
	if s.Points != 0 || len(s.Answer.Counts) != 0 {
		t.Errorf("%+v", s)
	}
	sendMotion(t, phone, x.id, token, []live.Motion{{At: 3}})
	oda.want(200, "GET", "/api/v1/live/"+x.id, "").json(t, &s)
	if s.Points != 1 || len(s.Answer.Counts) != 1 {
		t.Errorf("%+v", s)
	}
	oda.want(200, "PUT", "/api/v1/live/"+x.id, `{"version":1,"setup":{"channels":[],"other":{"does":"held","seen":true}}}`)
	oda.want(409, "PUT", "/api/v1/live/"+x.id, `{"version":1,"setup":{"channels":[]}}`)
	for body, field := range map[string]string{
		`{"version":2,"setup":{"channels":[{"channel":1,"shaft":"left","marks":1},
			{"channel":1,"shaft":"right","marks":1}]}}`: "/setup/channels/1/channel",
		`{"version":2,"setup":{"channels":[{"channel":1,"shaft":"left","marks":1},
			{"channel":2,"shaft":"left","marks":1}]}}`: "/setup/channels/1/shaft",
		`{"version":2,"setup":{"channels":[{"channel":1,"shaft":"left","marks":1},
			{"channel":2,"shaft":"output","marks":1}]}}`: "/setup/channels",
	} {
		if a := oda.do("PUT", "/api/v1/live/"+x.id, body); a.status != 422 || a.field() != field {
			t.Errorf("%s: %d at %s", body, a.status, a.field())
		}
	}
}

// Only so many counts are open at once; ended ones that nothing came of make room.
func TestLiveCountsAreBounded(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	kept := openLive(t, oda, livePhones)
	oda.want(200, "POST", "/api/v1/live/"+kept.id+"/end", `{"kept":true}`)
	for range store.MostLiveLoose + 5 {
		x := openLive(t, oda, livePhones)
		oda.want(200, "POST", "/api/v1/live/"+x.id+"/end", `{"kept":false}`)
	}
	var n int
	if err := st.DB.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM live_sessions").Scan(&n); err != nil ||
		n > store.MostLiveLoose+3 {
		t.Errorf("%d sessions are kept, %v", n, err)
	}
	oda.want(200, "GET", "/api/v1/live/"+kept.id, "")
	for range store.MostLiveOpen {
		openLive(t, oda, livePhones)
	}
	oda.want(409, "POST", "/api/v1/live", livePhones)
	// Those that somebody forgot end by themselves.
	if _, err := st.DB.ExecContext(t.Context(), "UPDATE live_sessions SET zero = zero - 50000"); err != nil {
		t.Fatal(err)
	}
	openLive(t, oda, livePhones)
}

// What is damaged in the database is left out, and breaks nothing.
func TestDamagedLive(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	x := openLive(t, oda, livePhones, "left")
	for _, damage := range []string{`{`, `[{"shaft":"front","times":[1]}]`, `[{"shaft":"left","times":[3,1]}]`,
		`[{"shaft":"left","ways":[5],"times":[9]}]`} {
		if _, err := st.AddLive(t.Context(), 0+mustID(t, x.id), []byte(damage), 1); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := st.DB.ExecContext(t.Context(), "UPDATE live_sessions SET setup = '[' WHERE id = ?", x.id); err != nil {
		t.Fatal(err)
	}
	if _, err := st.DB.ExecContext(t.Context(), "UPDATE live_line SET channels = '{'"); err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{"", "/recording", "/recording.csv"} {
		if a := oda.do("GET", "/api/v1/live/"+x.id+path, ""); a.status >= 500 {
			t.Errorf("%s: %d %s", path, a.status, a.body)
		}
	}
}

func mustID(t testing.TB, s string) (id int64) {
	t.Helper()
	if _, err := fmt.Sscan(s, &id); err != nil {
		t.Fatal(err)
	}
	return id
}

// A page that takes nothing holds up nobody: others get the newest state; and only so many
// follow at once.
func TestSlowFollowers(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	x := openLive(t, oda, livePhones)
	phone := newClient(t, srv.URL)
	token := joinLive(t, phone, x, "left")
	var idle []*http.Response
	t.Cleanup(func() {
		for _, r := range idle {
			_ = r.Body.Close()
		}
	})
	refused := 0
	for range 125 {
		req, err := http.NewRequestWithContext(t.Context(), "GET", srv.URL+"/api/v1/live/"+x.id+"/events", nil)
		if err != nil {
			t.Fatal(err)
		}
		res, err := oda.http.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		idle = append(idle, res)
		if res.StatusCode == 503 {
			refused++
		}
	}
	if refused != 5 {
		t.Errorf("%d of 125 pages are refused", refused)
	}
	// None of them reads; what comes is taken all the same, and one that reads sees the end.
	for i := range 40 {
		sendMotion(t, phone, x.id, token, []live.Motion{{At: float64(i)}})
	}
	_ = idle[0].Body.Close()
	if got := events(t, oda, x.id, func(s liveState) bool { return s.Points == 40 }); got.Points != 40 {
		t.Errorf("%+v", got)
	}
}
