package photo

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"
)

// drawn is a picture with a red upper left corner.
func drawn(w, h int) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.NRGBA{40, 60, 200, 255}
			if x < w/2 && y < h/2 {
				c = color.NRGBA{220, 30, 30, 255}
			}
			img.SetNRGBA(x, y, c)
		}
	}
	return img
}

func jpegOf(t *testing.T, img image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// located puts an EXIF block with an orientation and a place behind the head of a
// JPEG, as a phone does.
func located(data []byte, orientation uint16) []byte {
	var tiff bytes.Buffer
	w := func(v any) { _ = binary.Write(&tiff, binary.BigEndian, v) }
	tiff.WriteString("MM")
	w(uint16(42))
	w(uint32(8))
	w(uint16(2))
	w(uint16(0x0112)) // orientation
	w(uint16(3))
	w(uint32(1))
	w(orientation)
	w(uint16(0))
	w(uint16(0x8825)) // GPS
	w(uint16(4))
	w(uint32(1))
	w(uint32(38))
	w(uint32(0))
	w(uint16(1))
	w(uint16(1)) // latitude ref
	w(uint16(2))
	w(uint32(2))
	tiff.WriteString("N\x00\x00\x00")
	w(uint32(0))
	tiff.WriteString("GPS-TORNOCK-HARBOR")
	block := append([]byte("Exif\x00\x00"), tiff.Bytes()...)
	out := append([]byte{}, data[:2]...)
	out = append(out, 0xff, 0xe1, byte((len(block)+2)>>8), byte(len(block)+2))
	out = append(out, block...)
	return append(out, data[2:]...)
}

func TestTakes(t *testing.T) {
	img := drawn(400, 200)
	var p bytes.Buffer
	if err := png.Encode(&p, img); err != nil {
		t.Fatal(err)
	}
	for name, data := range map[string][]byte{"JPEG": jpegOf(t, img), "PNG": p.Bytes()} {
		got, err := Take(data)
		if err != nil || got.Width != 400 || got.Height != 200 {
			t.Fatalf("%s: %+v %v", name, got, err)
		}
		small, _, err := image.DecodeConfig(bytes.NewReader(got.Thumb))
		if err != nil || small.Width != 320 || small.Height != 160 {
			t.Errorf("%s: thumb %v %v", name, small, err)
		}
	}
	// Larger than is needed, it is made smaller.
	got, err := Take(jpegOf(t, drawn(3600, 1200)))
	if err != nil || got.Width != 2400 || got.Height != 800 {
		t.Errorf("%+v %v", got, err)
	}
}

// Turned upright by what the camera said, and nothing of the place stays.
func TestUprightWithoutThePlace(t *testing.T) {
	data := located(jpegOf(t, drawn(400, 200)), 6) // the camera lay on its side
	if !bytes.Contains(data, []byte("TORNOCK")) {
		t.Fatal("the place is not in the test's own picture")
	}
	got, err := Take(data)
	if err != nil {
		t.Fatal(err)
	}
	if got.Width != 200 || got.Height != 400 {
		t.Errorf("%d × %d", got.Width, got.Height)
	}
	for _, b := range [][]byte{got.Full, got.Thumb} {
		if bytes.Contains(b, []byte("TORNOCK")) || bytes.Contains(b, []byte("Exif")) {
			t.Error("the place is still in it")
		}
	}
	img, err := jpeg.Decode(bytes.NewReader(got.Full))
	if err != nil {
		t.Fatal(err)
	}
	if r, _, b, _ := img.At(180, 20).RGBA(); r < b { // the red corner is upper right now
		t.Error("not turned")
	}
}

func TestRefuses(t *testing.T) {
	var g bytes.Buffer
	if err := gif.Encode(&g, drawn(20, 20), nil); err != nil {
		t.Fatal(err)
	}
	whole := jpegOf(t, drawn(300, 300))
	// A PNG that says it is enormous.
	var p bytes.Buffer
	_ = png.Encode(&p, drawn(4, 4))
	huge := bytes.Clone(p.Bytes())
	binary.BigEndian.PutUint32(huge[16:], 60000)
	binary.BigEndian.PutUint32(huge[20:], 60000)
	for name, c := range map[string]struct {
		data []byte
		want string
	}{
		"nothing":       {nil, "no picture"},
		"text":          {[]byte("<svg onload=alert(1)>"), "no picture"},
		"a GIF":         {g.Bytes(), "no picture"},
		"half of one":   {whole[:len(whole)/3], "no picture"},
		"a head alone":  {whole[:20], "no picture"},
		"sixty billion": {huge, ""},
		"too large":     {make([]byte, MostBytes+1), "at most 12 MB"},
	} {
		if _, err := Take(c.data); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// A strip is refused by its sides, before anything of it is unpacked.
func TestStripsAreRefused(t *testing.T) {
	for _, c := range [][2]int{{26_000_000, 1}, {1, 26_000_000}, {20_001, 1}, {1, 20_001}} {
		var b bytes.Buffer
		if err := png.Encode(&b, drawn(4, 4)); err != nil {
			t.Fatal(err)
		}
		data := b.Bytes()
		binary.BigEndian.PutUint32(data[16:], uint32(c[0]))
		binary.BigEndian.PutUint32(data[20:], uint32(c[1]))
		binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
		if _, err := Take(data); err == nil || !strings.Contains(err.Error(), "on a side") {
			t.Errorf("%d × %d: %v", c[0], c[1], err)
		}
	}
	for _, c := range [][2]int{{20_000, 3}, {3, 20_000}} {
		var b bytes.Buffer
		if err := png.Encode(&b, drawn(c[0], c[1])); err != nil {
			t.Fatal(err)
		}
		if p, err := Take(b.Bytes()); err != nil || p.Width < 1 || p.Height < 1 {
			t.Errorf("%d × %d: %v", c[0], c[1], err)
		}
	}
}

// What is clear in a picture is white when it is kept.
func TestClearIsWhite(t *testing.T) {
	var p bytes.Buffer
	if err := png.Encode(&p, image.NewNRGBA(image.Rect(0, 0, 50, 50))); err != nil {
		t.Fatal(err)
	}
	got, err := Take(p.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	img, err := jpeg.Decode(bytes.NewReader(got.Full))
	if err != nil {
		t.Fatal(err)
	}
	if r, _, _, _ := img.At(25, 25).RGBA(); r < 0xf000 {
		t.Errorf("%x", r)
	}
}

// What this program wrote comes back byte for byte; a JPEG with anything beside its
// picture in it is written anew without; what it never wrote is refused.
func TestAgain(t *testing.T) {
	first, err := Take(jpegOf(t, drawn(500, 400)))
	if err != nil {
		t.Fatal(err)
	}
	again, err := Again(first.Full)
	if err != nil || !bytes.Equal(again.Full, first.Full) || again.Width != 500 || again.Height != 400 || len(again.Thumb) == 0 {
		t.Errorf("%v, %d × %d", err, again.Width, again.Height)
	}
	with := located(jpegOf(t, drawn(500, 400)), 1)
	clean, err := Again(with)
	if err != nil || bytes.Contains(clean.Full, []byte("Exif")) || bytes.Contains(clean.Full, []byte("MM\x00*")) {
		t.Errorf("a place stays in it: %v", err)
	}
	behind := append(bytes.Clone(first.Full), []byte("GPS 47.1 8.5\xff\xd9")...)
	if clean, err = Again(behind); err != nil || bytes.Contains(clean.Full, []byte("GPS")) {
		t.Errorf("what stands behind it stays: %v", err)
	}
	for name, hidden := range map[string][]byte{
		"a comment behind the scan":       {0xff, 0xfe, 0, 8, 'h', 'e', 'r', 'e', '!', '!'},
		"a place behind the scan":         {0xff, 0xe1, 0, 8, 'h', 'e', 'r', 'e', '!', '!'},
		"a segment that nobody asked for": {0xff, 0xf3, 0, 8, 'h', 'e', 'r', 'e', '!', '!'},
	} {
		n := len(first.Full) - 2
		data := append(append(bytes.Clone(first.Full[:n]), hidden...), first.Full[n:]...)
		if clean, err = Again(data); err == nil && bytes.Contains(clean.Full, []byte("here!!")) {
			t.Errorf("%s stays", name)
		}
	}
	comment := append([]byte{0xff, 0xd8, 0xff, 0xfe, 0, 8, 'h', 'e', 'r', 'e', '!', '!'}, first.Full[2:]...)
	if clean, err = Again(comment); err != nil || bytes.Contains(clean.Full, []byte("here!!")) {
		t.Errorf("a comment stays: %v", err)
	}
	var asPNG, asGIF bytes.Buffer
	if err := png.Encode(&asPNG, drawn(50, 40)); err != nil {
		t.Fatal(err)
	}
	if err := gif.Encode(&asGIF, drawn(50, 40), nil); err != nil {
		t.Fatal(err)
	}
	for name, data := range map[string][]byte{
		"nothing": {}, "PNG": asPNG.Bytes(), "GIF": asGIF.Bytes(), "text": []byte(strings.Repeat("x", 1000)), "half": first.Full[:len(first.Full)/2],
		"too wide": jpegOf(t, image.NewGray(image.Rect(0, 0, longest+1, 2))),
	} {
		if _, err := Again(data); err == nil {
			t.Errorf("%s: taken", name)
		}
	}
	if w, h, err := Size(first.Full); err != nil || w != 500 || h != 400 {
		t.Errorf("%d × %d, %v", w, h, err)
	}
}

// Each of the eight ways that a picture may lie comes upright, point by point: the
// standard says at which side its first row and its first column are seen.
func TestUprightEveryWay(t *testing.T) {
	const w, h = 5, 3
	lying := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			lying.Set(x, y, color.RGBA{uint8(40 * x), uint8(70 * y), 9, 255})
		}
	}
	for way, seen := range [][2]string{
		1: {"top", "left"}, {"top", "right"}, {"bottom", "right"}, {"bottom", "left"},
		{"left", "top"}, {"right", "top"}, {"right", "bottom"}, {"left", "bottom"},
	} {
		if way == 0 {
			continue
		}
		got := upright(lying, way)
		wide, high := got.Bounds().Dx(), got.Bounds().Dy()
		if turned := way >= 5; turned && (wide != h || high != w) || !turned && (wide != w || high != h) {
			t.Fatalf("%d: %d × %d", way, wide, high)
		}
		for y := range h {
			for x := range w {
				var at image.Point
				for k, n := range []int{y, x} {
					switch seen[k] {
					case "top":
						at.Y = n
					case "bottom":
						at.Y = high - 1 - n
					case "left":
						at.X = n
					case "right":
						at.X = wide - 1 - n
					}
				}
				if got.At(at.X, at.Y) != lying.At(x, y) {
					t.Errorf("%d: the point at %d, %d is not at %v", way, x, y, at)
				}
			}
		}
	}
}
