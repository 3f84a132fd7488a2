package form

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

// Unholdable finds text that a database cannot hold, in JSON: NUL, half of a
// surrogate pair, bytes that are not UTF-8. reason is empty when there is none.
func Unholdable(data []byte) (at int, reason string) {
	for i := 0; i < len(data); i++ {
		switch c := data[i]; {
		case c >= utf8.RuneSelf:
			r, size := utf8.DecodeRune(data[i:])
			if r == utf8.RuneError && size == 1 {
				return i, "is not UTF-8 text"
			}
			i += size - 1
		case c == '\\' && i+1 < len(data) && data[i+1] == 'u':
			unit, ok := escaped(data[i:])
			switch {
			case !ok: // no JSON either way
			case unit == 0:
				return i, "may not hold the character NUL"
			case utf16.IsSurrogate(unit):
				low, ok := escaped(data[min(i+6, len(data)):])
				if !ok || utf16.DecodeRune(unit, low) == utf8.RuneError {
					return i, "holds half of a character (a lone surrogate)"
				}
				i += 6
			}
			i += 5
		case c == '\\':
			i++ // whatever is escaped is no backslash of its own
		}
	}
	return 0, ""
}

// escaped reads \uXXXX at the beginning of data.
func escaped(data []byte) (rune, bool) {
	if len(data) < 6 || data[0] != '\\' || data[1] != 'u' {
		return 0, false
	}
	n, err := strconv.ParseUint(string(data[2:6]), 16, 32)
	return rune(n), err == nil
}

// FieldAt names the field of a JSON object that a byte of its text belongs to,
// such as payload.words.
func FieldAt(data []byte, offset int) string {
	d := json.NewDecoder(strings.NewReader(string(data)))
	type level struct {
		name  string
		index int // of an array; -1 in an object
		named bool
	}
	var path []level
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) || err != nil || d.InputOffset() > int64(offset) {
			break
		}
		switch delim, isDelim := token.(json.Delim); {
		case isDelim && (delim == '{' || delim == '['):
			index := -1
			if delim == '[' {
				index = 0
			}
			path = append(path, level{index: index})
			continue
		case isDelim:
			path = path[:len(path)-1]
		case len(path) > 0 && path[len(path)-1].index < 0 && !path[len(path)-1].named:
			path[len(path)-1].name, path[len(path)-1].named = fmt.Sprint(token), true
			continue
		}
		if n := len(path) - 1; n >= 0 { // a value has ended
			path[n].named = false
			if path[n].index >= 0 {
				path[n].index++
			}
		}
	}
	var names []string
	for _, l := range path {
		switch {
		case l.index >= 0 && len(names) > 0:
			names[len(names)-1] += "[" + strconv.Itoa(l.index) + "]"
		case l.index < 0 && l.named:
			names = append(names, Clip(l.name))
		}
	}
	if len(names) == 0 {
		return ""
	}
	return strings.Join(names, ".")
}
