package template

import (
	"archive/zip"
	"encoding/xml"
	"fmt"
	"image"
	"image/draw"
	"image/png"
	"io"

	ximage "golang.org/x/image/draw"
)

// OpenRaster writes the template as a picture in layers, by the OpenRaster specification 0.0.6
// (freedesktop.org): a ZIP of pictures of the whole sheet. The same template gives the same bytes.
func OpenRaster(w io.Writer, s Sheet, o Options) error {
	z := zip.NewWriter(w)
	if err := stored(z, "mimetype", []byte("image/openraster")); err != nil {
		return err
	}
	all := layers(s, o)
	if err := stack(z, s, o, all); err != nil {
		return err
	}
	merged := blank(s, o)
	draw.Draw(merged, merged.Bounds(), image.NewUniform(paper), image.Point{}, draw.Src)
	if err := picture(z, layerFile(-1), merged); err != nil {
		return err
	}
	img := blank(s, o)
	for k, l := range all {
		clear(img.Pix)
		l.draw(&pen{img: img, size: float64(o.Size)})
		if err := picture(z, layerFile(k), img); err != nil {
			return err
		}
		if !l.hidden {
			draw.Draw(merged, merged.Bounds(), img, image.Point{}, draw.Over)
		}
	}
	if err := picture(z, "mergedimage.png", merged); err != nil {
		return err
	}
	small := image.NewRGBA(image.Rect(0, 0, 256, 256/s.across()))
	ximage.ApproxBiLinear.Scale(small, small.Bounds(), merged, merged.Bounds(), ximage.Src, nil)
	if err := picture(z, "Thumbnails/thumbnail.png", small); err != nil {
		return err
	}
	return z.Close()
}

// layerFile names the picture of a layer, -1 for the paper.
func layerFile(k int) string { return fmt.Sprintf("data/%02d.png", k+1) }

// stack writes how layers lie, from above.
func stack(z *zip.Writer, s Sheet, o Options, all []layer) error {
	type entry struct {
		XMLName    xml.Name `xml:"layer"`
		Name       string   `xml:"name,attr"`
		Src        string   `xml:"src,attr"`
		Visibility string   `xml:"visibility,attr"`
	}
	doc := struct {
		XMLName xml.Name `xml:"image"`
		Version string   `xml:"version,attr"`
		W       int      `xml:"w,attr"`
		H       int      `xml:"h,attr"`
		Layers  []entry  `xml:"stack>layer"`
	}{Version: "0.0.6", W: o.Size * s.across(), H: o.Size}
	for k := len(all) - 1; k >= 0; k-- {
		seen := "visible"
		if all[k].hidden {
			seen = "hidden"
		}
		doc.Layers = append(doc.Layers, entry{Name: all[k].name, Src: layerFile(k), Visibility: seen})
	}
	doc.Layers = append(doc.Layers, entry{Name: "paper", Src: layerFile(-1), Visibility: "visible"})
	b, err := xml.MarshalIndent(doc, "", " ")
	if err != nil {
		return err
	}
	f, err := z.Create("stack.xml")
	if err != nil {
		return err
	}
	_, err = f.Write(append([]byte(xml.Header), b...))
	return err
}

func stored(z *zip.Writer, name string, data []byte) error {
	f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store})
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	return err
}

// picture writes one that is packed already.
func picture(z *zip.Writer, name string, img image.Image) error {
	f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store})
	if err != nil {
		return err
	}
	return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(f, img)
}
