package server

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gin-gonic/gin"

	"jetprimer/web"
)

// assets are the built screens, compressed once.
type assets struct {
	files map[string]asset
}

type asset struct {
	plain, zipped []byte
	kind          string
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
		kind := mime.TypeByExtension(path.Ext(name))
		if path.Ext(name) == ".wasm" {
			kind = "application/wasm"
		}
		one := asset{plain: data, kind: kind}
		if !strings.HasPrefix(kind, "font/") && !strings.HasPrefix(kind, "image/png") {
			var b bytes.Buffer
			z, _ := gzip.NewWriterLevel(&b, gzip.BestCompression)
			if _, err := z.Write(data); err != nil {
				return err
			}
			if err := z.Close(); err != nil {
				return err
			}
			one.zipped = b.Bytes()
		}
		a.files[strings.TrimPrefix(name, "dist")] = one
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("reading the screens: %w", err)
	}
	return a, nil
}

// serve answers with a file, or with the one page that draws every place.
func (a *assets) serve(c *gin.Context) {
	name := path.Clean(c.Request.URL.Path)
	file, known := a.files[name]
	switch {
	case strings.HasPrefix(name, "/api/"):
		c.Header("Content-Type", "application/problem+json")
		c.String(http.StatusNotFound, `{"title":"Not Found","status":404,"detail":"There is no such address."}`)
		return
	case !known && path.Ext(name) != "":
		c.String(http.StatusNotFound, "There is no such file.\n")
		return
	case !known:
		name = "/index.html"
		if file, known = a.files[name]; !known {
			c.String(http.StatusServiceUnavailable, "The screens are not built: run make build.\n")
			return
		}
	}
	c.Header("Cache-Control", "no-cache")
	if strings.HasPrefix(name, "/assets/") {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	}
	c.Header("Vary", "Accept-Encoding")
	if file.zipped != nil && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		c.Header("Content-Encoding", "gzip")
		c.Data(http.StatusOK, file.kind, file.zipped)
		return
	}
	c.Data(http.StatusOK, file.kind, file.plain)
}
