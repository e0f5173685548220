// Package photo takes pictures in: by what they are, not by what they are called,
// turned upright, no larger than is needed, and written anew, so that nothing of
// where and with what they were taken stays in them.
package photo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/jpeg"

	// The formats that are taken.
	_ "image/png"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
	_ "golang.org/x/image/webp"
)

// Bounds of a picture.
const (
	MostBytes  = 12 << 20
	mostPixels = 26_000_000
	mostSide   = 20_000 // a strip takes memory by its length
	longest    = 2400
	thumb      = 320
)

// ErrNoPicture is returned where it is no JPEG, PNG or WebP, or is cut off.
var ErrNoPicture = errors.New("this is no picture: JPEG, PNG and WebP are taken")

// Photo is a picture as it is kept.
type Photo struct {
	Full, Thumb   []byte // JPEG
	Width, Height int
}

// one at a time: a picture takes some hundred megabytes while it is turned.
var turn = make(chan struct{}, 1)

// Take reads a picture.
func Take(data []byte) (*Photo, error) {
	full, _, err := whole(data, longest, draw.CatmullRom)
	if err != nil {
		return nil, err
	}
	out := &Photo{Width: full.Bounds().Dx(), Height: full.Bounds().Dy()}
	if out.Full, err = write(full, 86); err != nil {
		return nil, err
	}
	out.Thumb, err = write(fit(full, thumb, draw.ApproxBiLinear), 78)
	return out, err
}

// whole reads a picture upright, no longer on a side than most, and tells how long its
// longer side was.
func whole(data []byte, most int, by draw.Scaler) (full *image.RGBA, was int, err error) {
	format, err := bounded(data)
	if err != nil {
		return nil, 0, err
	}
	turn <- struct{}{}
	defer func() { <-turn }()
	img, err := decode(data)
	if err != nil {
		return nil, 0, err
	}
	return upright(fit(img, most, by), orientation(data, format)), max(img.Bounds().Dx(), img.Bounds().Dy()), nil
}

// bounded is a picture's format, or what of its size is too much.
func bounded(data []byte) (format string, err error) {
	if len(data) == 0 {
		return "", ErrNoPicture
	}
	if len(data) > MostBytes {
		return "", fmt.Errorf("at most %d MB", MostBytes>>20)
	}
	head, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || format != "jpeg" && format != "png" && format != "webp" {
		return "", ErrNoPicture
	}
	if head.Width < 1 || head.Height < 1 || head.Width > mostSide || head.Height > mostSide || head.Height > mostPixels/head.Width {
		return "", fmt.Errorf("the picture is %d × %d points; at most %d million are taken, and %d on a side",
			head.Width, head.Height, mostPixels/1_000_000, mostSide)
	}
	return format, nil
}

// Gray is a picture's gray values, upright, at most as long as is of use for counting.
type Gray struct {
	Pix           []uint8
	Width, Height int
	Shrunk        float64 // how many points of the picture one of these is wide
}

// longestGray is the longer side of a picture on which teeth are counted.
const longestGray = 2200

// ToGray reads a picture's gray values.
func ToGray(data []byte) (*Gray, error) {
	full, was, err := whole(data, longestGray, draw.ApproxBiLinear)
	if err != nil {
		return nil, err
	}
	g := image.NewGray(image.Rect(0, 0, full.Bounds().Dx(), full.Bounds().Dy()))
	draw.Draw(g, g.Rect, full, full.Bounds().Min, draw.Src)
	return &Gray{Pix: g.Pix, Width: g.Rect.Dx(), Height: g.Rect.Dy(),
		Shrunk: max(1, float64(was)/float64(max(g.Rect.Dx(), g.Rect.Dy())))}, nil
}

func decode(data []byte) (image.Image, error) {
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNoPicture
	}
	return img, nil
}

// Size is how large Again will keep a picture: width and height.
func Size(data []byte) (width, height int, err error) {
	head, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || format != "jpeg" || head.Width > longest || head.Height > longest {
		return 0, 0, fmt.Errorf("a JPEG of at most %d × %d points is expected, as this program writes it", longest, longest)
	}
	return head.Width, head.Height, nil
}

// Again reads a picture that Take wrote, as it comes back with a document. It is kept
// byte for byte where nothing but the picture is in it, and else written anew.
func Again(data []byte) (*Photo, error) {
	width, height, err := Size(data)
	if err != nil {
		return nil, err
	}
	if len(data) > MostBytes {
		return nil, fmt.Errorf("at most %d MB", MostBytes>>20)
	}
	turn <- struct{}{}
	defer func() { <-turn }()
	img, err := decode(data)
	if err != nil {
		return nil, err
	}
	out := &Photo{Full: data, Width: width, Height: height}
	if !bare(data) {
		if out.Full, err = write(img, 86); err != nil {
			return nil, err
		}
	}
	out.Thumb, err = write(fit(img, thumb, draw.ApproxBiLinear), 78)
	return out, err
}

// bare is whether a JPEG holds nothing beside its picture, as write leaves it: the
// tables that a picture needs, one scan, and its end. Whatever else stands before,
// between or behind (comments, where it was taken, more scans) is not bare.
func bare(data []byte) bool {
	const (
		tables, frame, codes, interval, scan, end = 0xdb, 0xc0, 0xc4, 0xdd, 0xda, 0xd9
	)
	if len(data) < 4 || data[0] != 0xff || data[1] != 0xd8 {
		return false
	}
	for at := 2; at+4 <= len(data); {
		if data[at] != 0xff {
			return false
		}
		kind := data[at+1]
		at += 2 + int(data[at+2])<<8 + int(data[at+3])
		switch kind {
		case tables, frame, codes, interval:
		case scan:
			for ; at+1 < len(data); at++ {
				if data[at] != 0xff {
					continue
				}
				switch next := data[at+1]; {
				case next == 0, next >= 0xd0 && next <= 0xd7: // a byte of the picture, a restart
				case next == end:
					return at+2 == len(data)
				default:
					return false
				}
			}
			return false
		default:
			return false
		}
	}
	return false
}

// fit is a picture on white, where it is clear, no longer on a side than most.
func fit(img image.Image, most int, by draw.Scaler) *image.RGBA {
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	if long := max(w, h); long > most {
		w, h = max(1, (w*most+long/2)/long), max(1, (h*most+long/2)/long)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.White, image.Point{}, draw.Src)
	by.Scale(out, out.Bounds(), img, img.Bounds(), draw.Over, nil)
	return out
}

// orientation is how a picture lies, as its EXIF block says: 1, upright, where it
// says nothing.
func orientation(data []byte, format string) int {
	kinds := map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP}
	lies := 1
	// What can't be read says nothing.
	_, _ = imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(data), ImageFormat: kinds[format], Sources: imagemeta.EXIF,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" && t.Namespace == "IFD0" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if v, ok := t.Value.(uint16); ok && v >= 1 && v <= 8 {
				lies = int(v)
			}
			return nil
		},
	})
	return lies
}

// upright turns a picture by its EXIF orientation (CIPA DC-008, tag 0x0112): each
// point goes to one point.
func upright(img *image.RGBA, orientation int) *image.RGBA {
	w, h := float64(img.Bounds().Dx()), float64(img.Bounds().Dy())
	to, ok := map[int]f64.Aff3{ // x' = a·x + b·y + c, y' = d·x + e·y + f
		2: {-1, 0, w, 0, 1, 0},
		3: {-1, 0, w, 0, -1, h},
		4: {1, 0, 0, 0, -1, h},
		5: {0, 1, 0, 1, 0, 0},
		6: {0, -1, h, 1, 0, 0},
		7: {0, -1, h, -1, 0, w},
		8: {0, 1, 0, -1, 0, w},
	}[orientation]
	if !ok {
		return img
	}
	size := img.Bounds().Size()
	if orientation >= 5 {
		size.X, size.Y = size.Y, size.X
	}
	out := image.NewRGBA(image.Rectangle{Max: size})
	draw.NearestNeighbor.Transform(out, to, img, img.Bounds(), draw.Src, nil)
	return out
}

func write(img image.Image, quality int) ([]byte, error) {
	var b bytes.Buffer
	err := jpeg.Encode(&b, img, &jpeg.Options{Quality: quality})
	return b.Bytes(), err
}
