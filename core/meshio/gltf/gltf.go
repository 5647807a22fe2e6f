// Package gltf reads and writes glTF 2.0 (Khronos Group 2017-2021; ISO/IEC 12113:2022), as one
// binary file (.glb) or as JSON that holds its data or names files beside it (.gltf).
//
// Read, the nodes of the scene are gone through and their transforms baked into the points, so
// that a map has the proportions that are seen. Written again, nodes, materials, pictures, skins,
// animations and whatever else the file held stay as they came: only triangles are given other
// vertices, as the seams of the maps ask for, with all they had.
package gltf

import "morvek/core/meshio/format"

// Binary and Text are the rows of the table of formats.
var (
	Binary = format.Format{
		Name:       "glTF binary",
		Extensions: []string{".glb"},
		Media:      "model/gltf-binary",
		Habit:      format.Habit{Up: format.AlwaysY},
		Magic:      [][]byte{[]byte("glTF")},
		Read:       Read,
		Write:      WriteBinary,
		Keeps:      keeps,
	}
	Text = format.Format{
		Name:       "glTF",
		Extensions: []string{".gltf"},
		Media:      "model/gltf+json",
		Habit:      format.Habit{Up: format.AlwaysY},
		Read:       Read,
		Write:      WriteText,
		Keeps:      keeps,
	}
)

const keeps = "points, triangles and their order, nodes, materials with their pictures, normals, colours, skins, animations, and all maps; polygons of other formats become triangles"

// What a file may hold.
const (
	mostNodes  = 1_000_000
	mostDepth  = 512       // of nodes in nodes
	mostCount  = 1 << 28   // elements of an accessor
	mostJSON   = 256 << 20 // bytes
	componentF = 5126      // float32
)

// document is what is read of the JSON; the rest is kept as it is.
type document struct {
	Asset struct {
		Version    string `json:"version"`
		MinVersion string `json:"minVersion"`
	} `json:"asset"`
	Scene  *int `json:"scene"`
	Scenes []struct {
		Nodes []int `json:"nodes"`
	} `json:"scenes"`
	Nodes              []node       `json:"nodes"`
	Meshes             []meshOf     `json:"meshes"`
	Accessors          []accessor   `json:"accessors"`
	BufferViews        []bufferView `json:"bufferViews"`
	Buffers            []buffer     `json:"buffers"`
	Materials          []named      `json:"materials"`
	Images             []image      `json:"images"`
	Skins              []named      `json:"skins"`
	Animations         []named      `json:"animations"`
	ExtensionsUsed     []string     `json:"extensionsUsed"`
	ExtensionsRequired []string     `json:"extensionsRequired"`
}

type named struct {
	Name string `json:"name"`
}

type node struct {
	Name        string         `json:"name"`
	Children    []int          `json:"children"`
	Mesh        *int           `json:"mesh"`
	Skin        *int           `json:"skin"`
	Matrix      *[16]float64   `json:"matrix"`
	Translation *[3]float64    `json:"translation"`
	Rotation    *[4]float64    `json:"rotation"`
	Scale       *[3]float64    `json:"scale"`
	Extensions  map[string]any `json:"extensions"`
}

type meshOf struct {
	Name       string      `json:"name"`
	Primitives []primitive `json:"primitives"`
}

type primitive struct {
	Attributes map[string]int   `json:"attributes"`
	Indices    *int             `json:"indices"`
	Material   *int             `json:"material"`
	Mode       *int             `json:"mode"`
	Targets    []map[string]int `json:"targets"`
	Extensions map[string]any   `json:"extensions"`
}

type accessor struct {
	BufferView    *int      `json:"bufferView"`
	ByteOffset    int       `json:"byteOffset"`
	ComponentType int       `json:"componentType"`
	Normalized    bool      `json:"normalized"`
	Count         int       `json:"count"`
	Type          string    `json:"type"`
	Min           []float64 `json:"min,omitempty"`
	Max           []float64 `json:"max,omitempty"`
	Sparse        *struct {
		Count   int `json:"count"`
		Indices struct {
			BufferView    int `json:"bufferView"`
			ByteOffset    int `json:"byteOffset"`
			ComponentType int `json:"componentType"`
		} `json:"indices"`
		Values struct {
			BufferView int `json:"bufferView"`
			ByteOffset int `json:"byteOffset"`
		} `json:"values"`
	} `json:"sparse"`
}

type bufferView struct {
	Buffer     int            `json:"buffer"`
	ByteOffset int            `json:"byteOffset"`
	ByteLength int            `json:"byteLength"`
	ByteStride int            `json:"byteStride"`
	Extensions map[string]any `json:"extensions"`
}

type buffer struct {
	URI        *string `json:"uri"`
	ByteLength int     `json:"byteLength"`
}

type image struct {
	URI        *string `json:"uri"`
	BufferView *int    `json:"bufferView"`
	MimeType   string  `json:"mimeType"`
}

// components are the numbers of an element of each type.
var components = map[string]int{"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}

// sizes are the bytes of each type of numbers.
var sizes = map[int]int{5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4}

// known are the extensions a file may require: they change no geometry, or are read.
var known = map[string]bool{"KHR_mesh_quantization": true, "KHR_texture_transform": true, "KHR_texture_basisu": true, "EXT_texture_webp": true,
	"EXT_texture_avif": true, "MSFT_texture_dds": true, "KHR_lights_punctual": true, "KHR_materials_unlit": true, "KHR_materials_clearcoat": true,
	"KHR_materials_transmission": true, "KHR_materials_sheen": true, "KHR_materials_specular": true, "KHR_materials_ior": true,
	"KHR_materials_volume": true, "KHR_materials_iridescence": true, "KHR_materials_emissive_strength": true, "KHR_materials_anisotropy": true,
	"KHR_materials_dispersion": true, "KHR_materials_pbrSpecularGlossiness": true, "KHR_materials_variants": true, "KHR_xmp_json_ld": true}

// squeezed are extensions that hold geometry in a form that is not read, with what they are.
var squeezed = map[string]string{"KHR_draco_mesh_compression": "meshes compressed with Draco", "EXT_meshopt_compression": "meshes compressed with meshoptimizer",
	"KHR_meshopt_compression": "meshes compressed with meshoptimizer"}
