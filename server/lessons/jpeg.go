package lessons

import (
	"bytes"
	"encoding/binary"

	"jetprimer/core/form"
)

// The markers of a JPEG file (ITU-T T.81, annex B) that a picture drawn by a device has.
const (
	beginsPicture = 0xD8
	endsPicture   = 0xD9
	beginsScan    = 0xDA
	tables        = 0xDB // of quantisation
	huffman       = 0xC4
	baseline      = 0xC0
	extended      = 0xC1
	progressive   = 0xC2
	restartEvery  = 0xDD
	application   = 0xE0 // and the 15 after it
)

// drawn are how the application data begin that say how a picture is drawn and nothing
// else: the measure of its pixels, its colour profile, and how its colours were made.
var drawn = map[byte]string{application: "JFIF\x00", application + 2: "ICC_PROFILE\x00", application + 14: "Adobe"}

// plainJPEG refuses a file that is not just one picture drawn in one go: data of
// applications such as where it was taken, wherever they stand, a comment, what comes behind
// the picture, or many scans, each of which would be drawn over the one before.
func plainJPEG(data []byte) error {
	no := form.Bad("picture", "is no JPEG picture")
	if len(data) < 4 || data[0] != 0xFF || data[1] != beginsPicture {
		return no
	}
	scans := 0
	for at := 2; ; {
		if at+2 > len(data) || data[at] != 0xFF {
			return no
		}
		kind := data[at+1]
		if kind == endsPicture {
			if at+2 != len(data) {
				return form.Bad("picture", "carries %d bytes behind the picture; they have to be taken off first",
					len(data)-at-2)
			}
			return nil
		}
		if at+4 > len(data) {
			return no
		}
		end := at + 2 + int(binary.BigEndian.Uint16(data[at+2:]))
		if end > len(data) || end < at+4 {
			return no
		}
		segment := data[at+4 : end]
		switch {
		case kind == beginsScan:
			if scans++; scans > 1 {
				return form.Bad("picture", "must be drawn in one scan")
			}
			end += scanned(data[end:])
		case kind == progressive:
			return form.Bad("picture", "must be drawn in one scan, and is progressive")
		case kind == tables, kind == huffman, kind == baseline, kind == extended, kind == restartEvery:
		default:
			if begins, plain := drawn[kind]; !plain || !bytes.HasPrefix(segment, []byte(begins)) ||
				kind == application && len(segment) != 14 || kind == application+14 && len(segment) != 12 {
				return form.Bad("picture", "carries metadata, such as where it was taken; it has to be taken off first")
			}
		}
		at = end
	}
}

// scanned is how many bytes of a scan there are before the next marker.
func scanned(data []byte) int {
	for i := 0; i+1 < len(data); i++ {
		if data[i] == 0xFF && data[i+1] != 0 && (data[i+1] < 0xD0 || data[i+1] > 0xD7) {
			return i
		}
	}
	return len(data)
}
