package paper

import (
	"bytes"
	"image"
	"image/jpeg"
	"strings"
	"testing"
	"time"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/regear"
	"zorvel/core/service"
)

func figure(v float64) *float64 { return &v }

func word(s string) *string { return &s }

// Each line of a job in words; what only moves it on has none.
func TestWorkInWords(t *testing.T) {
	for _, c := range []struct {
		w    api.Work
		part string
		want string
	}{
		{api.Work{Kind: "finding", Text: "Sheared"}, "Rear axle", "Rear axle: found: Sheared"},
		{api.Work{Kind: "finding", Text: "Sheared"}, "", "found: Sheared"},
		{api.Work{Kind: "work", Text: "Renewed", Minutes: figure(90)}, "Rear axle", "Rear axle: Renewed, 1.5 h"},
		{api.Work{Kind: "work", Text: "Renewed", Minutes: figure(0)}, "", "Renewed"},
		{api.Work{Kind: "work", Text: "Renewed"}, "", "Renewed"},
		{api.Work{Kind: "note", Text: "Owner called"}, "", "Owner called"},
		{api.Work{Kind: "service", What: "gear oil", Text: "2.1 l"}, "Gearcase", "Gearcase: service done: gear oil. 2.1 l"},
		{api.Work{Kind: "service", What: "gear oil"}, "", "service done: gear oil."},
		{api.Work{Kind: "meter", Km: figure(84210.5), Hours: figure(12)}, "", "meter reading: 84210.5 km, 12 h"},
		{api.Work{Kind: "meter", Sessions: figure(3), Meter: word("rolled_over")}, "", "meter reading: 3 sessions, rolled over"},
		{api.Work{Kind: "state", What: "on_stands"}, "", ""},
		{api.Work{Kind: "taken", What: "Oda"}, "", ""},
		{api.Work{Kind: "closed"}, "", ""},
	} {
		if got := workWords(c.w, c.part); got != c.want {
			t.Errorf("%+v: %q, want %q", c.w, got, c.want)
		}
	}
}

// A sheet of every layout, for the shop and for the owner, with much and with
// nothing on it, prints.
func TestSheetsOfEveryLayout(t *testing.T) {
	at := time.Date(2026, 5, 1, 9, 0, 0, 0, time.UTC)
	for _, l := range driveline.Layouts() {
		for _, owner := range []bool{false, true} {
			for _, much := range []bool{false, true} {
				sh := Job{Page: api.Job{Job: api.JobSummary{Unit: "Unit 🛻 ½", Complaint: "It whines", Who: "Ivar", At: at}}, Doc: &l.Document, Due: &service.Answer{}, Owner: owner}
				if much {
					sh.Head = catalog.Letterhead{Name: "A workshop", Address: "On the quay"}
					sh.Page.HandOver = strings.Repeat("Grease it. ", 150)
					sh.Page.Job.ClosedAt = &at
					for range 80 {
						sh.Page.Work = append(sh.Page.Work, api.Work{Kind: "finding", Text: strings.Repeat("long ", 60), By: "Ivar", DoneAt: at})
						sh.Page.Open = append(sh.Page.Open, api.JobOpen{What: "A card is in hand", Why: "begun by Oda"})
					}
					sh.Due.Due = []service.Due{{What: "gear oil", Name: "Rear axle", State: service.Overdue,
						Words: "on May 1, 2026"}, {What: "breather", Name: "Rear axle", State: service.Unknown}}
				}
				b, err := sh.Print()
				if err != nil || !bytes.HasPrefix(b, []byte("%PDF")) {
					t.Errorf("%s: %v", l.ID, err)
				}
			}
		}
	}
}

// A page for the wall of every layout prints on one page, with and without a link, and a
// job's photos come along, those that can't be read left out.
func TestWallAndPhotos(t *testing.T) {
	var good bytes.Buffer
	if err := jpeg.Encode(&good, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	for _, l := range driveline.Layouts() {
		for _, link := range []string{"", "https://shop.example/units/12"} {
			w := Wall{Unit: api.Unit{Name: "Unit ½"}, Doc: &l.Document, Due: &service.Answer{}, Link: link}
			b, err := w.Print()
			if err != nil || !bytes.HasPrefix(b, []byte("%PDF")) || bytes.Count(b, []byte("/Type /Page\n")) != 1 {
				t.Errorf("%s %q: %v, %d pages", l.ID, link, err, bytes.Count(b, []byte("/Type /Page\n")))
			}
		}
	}
	l := driveline.Layouts()[0]
	sh := Job{Page: api.Job{Job: api.JobSummary{Unit: "Unit", Complaint: "It whines"}}, Doc: &l.Document, Due: &service.Answer{}}
	bare, err := sh.Print()
	if err != nil {
		t.Fatal(err)
	}
	photo := Photo{Title: "The flange", JPEG: good.Bytes(), Width: 40, Height: 30}
	sh.Photos = []Photo{photo, {Title: "Broken", JPEG: []byte("not a picture"), Width: 10, Height: 10}, photo,
		{Title: "Flat", JPEG: good.Bytes()}}
	b, err := sh.Print()
	if err != nil || len(b) < len(bare)+good.Len() || bytes.Count(b, []byte("/Subtype /Image")) == 0 {
		t.Errorf("%v, %d bytes with photos, %d without", err, len(b), len(bare))
	}
}

func TestLabor(t *testing.T) {
	price := func(low, high int64) *regear.Price {
		return &regear.Price{Low: exact.Figure{Number: exact.New(low, 1)}, High: exact.Figure{Number: exact.New(high, 1)}}
	}
	for _, x := range []struct {
		minutes  float64
		rate     *regear.Price
		currency string
		want     string
	}{
		{138, nil, "cr", "2.3 h. No price yet: the list Labor and prices has no hourly rate."},
		{138, price(62, 62), "cr", "2.3 h at 62.00 cr: 142.60 cr."},
		{138, price(62, 70), "cr", "2.3 h at 62.00 to 70.00 cr: 142.60 to 161.00 cr."},
		{60, price(62, 62), "", "1 h at 62.00: 62.00."},
	} {
		if got := labor(x.minutes, x.rate, x.currency); got != x.want {
			t.Errorf("%v min: %q, want %q", x.minutes, got, x.want)
		}
	}
}
