package server

import (
	"bytes"
	"fmt"
	"io"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/andybalholm/brotli"
	"github.com/gin-gonic/gin"

	"jetprimer/server/api"
	"jetprimer/web"
)

// assets are the built screens, as the build compressed them: under a file's
// name with .br, or plain where that gains nothing.
type assets struct {
	files map[string]asset
}

type asset struct {
	kind      string
	plain, br []byte
}

func newAssets() (*assets, error) {
	a := &assets{files: map[string]asset{}}
	err := fs.WalkDir(web.Dist, "dist", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := fs.ReadFile(web.Dist, name)
		if err != nil {
			return err
		}
		name = strings.TrimPrefix(name, "dist")
		name, compressed := strings.CutSuffix(name, ".br")
		file := a.files[name]
		switch path.Ext(name) {
		case ".wasm":
			file.kind = "application/wasm"
		case ".webmanifest":
			file.kind = "application/manifest+json"
		default:
			file.kind = mime.TypeByExtension(path.Ext(name))
		}
		if compressed {
			file.br = data
		} else {
			file.plain = data
		}
		a.files[name] = file
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("reading the screens: %w", err)
	}
	return a, nil
}

// as is the file as the build compressed it, or plain for a browser that does not take
// that; browsers take Brotli over TLS and on the machine itself only.
func (f asset) as(accepted string) (encoding string, data []byte, err error) {
	switch {
	case f.plain != nil:
		return "", f.plain, nil
	case strings.Contains(accepted, "br"):
		return "br", f.br, nil
	}
	data, err = io.ReadAll(brotli.NewReader(bytes.NewReader(f.br)))
	return "", data, err
}

// serve answers with a file, or with the one page that draws every place.
func (a *assets) serve(c *gin.Context) {
	name := path.Clean(c.Request.URL.Path)
	file, known := a.files[name]
	switch {
	case c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead && !strings.HasPrefix(name, "/api/"):
		c.Header("Allow", "GET, HEAD")
		api.Problem(c.Writer, http.StatusMethodNotAllowed, "This address is only read.")
		return
	case strings.HasPrefix(name, "/api/"), strings.ContainsFunc(name, func(r rune) bool { return r < ' ' }):
		api.Problem(c.Writer, http.StatusNotFound, "There is no such address.")
		return
	case !known && path.Ext(name) != "":
		api.Problem(c.Writer, http.StatusNotFound, "There is no such file.")
		return
	case !known:
		name = "/index.html"
		if file, known = a.files[name]; !known {
			api.Problem(c.Writer, http.StatusServiceUnavailable, "The screens are not built: run make build.")
			return
		}
	}
	encoding, data, err := file.as(c.GetHeader("Accept-Encoding"))
	if err != nil {
		api.Problem(c.Writer, http.StatusInternalServerError, api.WentWrong)
		return
	}
	c.Header("Cache-Control", "no-cache")
	if strings.HasPrefix(name, "/assets/") {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	}
	c.Header("Vary", "Accept-Encoding")
	if encoding != "" {
		c.Header("Content-Encoding", encoding)
	}
	c.Data(http.StatusOK, file.kind, data)
}
