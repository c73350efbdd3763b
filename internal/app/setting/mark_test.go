package setting_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/fault"
	"turret/internal/app/setting"
)

// A mark is a whole picture of a size that can be printed.
func TestMarksAreWholePictures(t *testing.T) {
	for name, b := range map[string][]byte{"empty": nil, "text": []byte("not a picture"),
		"svg": []byte(`<svg xmlns="http://www.w3.org/2000/svg"/>`), "huge": make([]byte, setting.MaxMark+1),
		"cut":  []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\x00\x01\x00\x00\x00\x01\x08\x06\x00\x00\x00\x1f\x15\xc4\x89"),
		"bomb": []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\xff\xff\x00\x00\xff\xff\x08\x06\x00\x00\x00\x6f\xf4\x8c\x1d")} {
		_, err := setting.ParseMark(name+".png", b)
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, name)
		assert.Contains(t, err.Error(), name+".png")
	}
}
