// Written by go generate from the tables of verbs in Go; change those.
export interface Verb { name: string; says: string; takes: string; what: string; key?: string; needs?: string[]; of?: string[]; form?: boolean; rare?: boolean }
/** The names of the verbs of each station; those of none are known at all. */
export interface VerbsOf {
  "": "part-off" | "clear-picked" | "flatten" | "turn" | "flip" | "turn-on" | "turn-back" | "likewise" | "sign" | "sign-here" | "unsign" | "sign-all" | "run" | "clear" | "undo" | "redo" | "again" | "all" | "invert" | "grow" | "shrink" | "around" | "crease" | "facing" | "alike-material" | "alike-size" | "alike-shape" | "alike-part" | "repeats" | "mirrored" | "halves" | "halves-on" | "unmapped" | "pick-next" | "sets" | "drop" | "alone" | "aside" | "everything" | "through" | "frame" | "go-there" | "parallel" | "clip-more" | "clip-less" | "unclip" | "follow" | "large-piece" | "large-sheet" | "swap-views" | "from-front" | "from-side" | "from-above" | "show-parts" | "show-cloth" | "show-stretch" | "show-area" | "show-density" | "show-grain" | "show-exposure" | "show-painted" | "shown-take" | "shown-stop" | "shown-swap" | "palette" | "help" | "first" | "to-parts" | "to-project" | "to-seams" | "to-flow" | "to-sheet" | "to-proof" | "filter" | "worklog" | "maps" | "sealing" | "deliver";
  "Parts": "assign" | "recognise-part" | "split" | "unite" | "merge" | "lock" | "rename" | "weigh" | "give" | "stack" | "turn-detail" | "recognise" | "follow-mirror";
  "Project": "lay" | "settings" | "lay-jig" | "keep-jig" | "clear-these";
  "Seams": "cut" | "close" | "join" | "hold" | "let-go" | "same" | "hand-over" | "join-group" | "keep-whole" | "let-cut" | "turn-dial" | "view" | "take-all" | "loop" | "carry-on" | "ring" | "chain" | "chain-short" | "borders" | "above";
  "Flow": "pin" | "relax-around" | "unpin" | "carry-over" | "carry-tiling" | "by-edge" | "true-picked" | "fill" | "label" | "turn-label" | "true-up" | "relax" | "watch" | "set-grain" | "draw-grain" | "by-loops" | "turn-by" | "to-pixels" | "true-all" | "orient-all" | "flatten-all" | "unmirror" | "carry-material" | "snap" | "reach";
  "Sheet": "to-rack" | "into-room" | "hold" | "stack" | "align" | "fit" | "density" | "divide" | "unstack" | "spread" | "offset" | "turn-by" | "pack" | "pack-all" | "fill" | "improve" | "arrange" | "lanes" | "set-sheet" | "density-all" | "weigh-hidden" | "need" | "racked" | "drag-to";
  "Proof": "accept" | "withdraw" | "next" | "previous" | "mend" | "mark" | "forget-mark" | "compare" | "report";
}
export const groups: { takes: string; says: string }[] = [
 {
  "takes": "points",
  "says": "Picked points"
 },
 {
  "takes": "edges",
  "says": "Picked edges"
 },
 {
  "takes": "faces",
  "says": "Picked faces"
 },
 {
  "takes": "shells",
  "says": "Shells"
 },
 {
  "takes": "parts",
  "says": "Parts"
 },
 {
  "takes": "model",
  "says": "Whole model"
 },
 {
  "takes": "choose",
  "says": "Choosing"
 },
 {
  "takes": "begun",
  "says": "What is shown"
 },
 {
  "takes": "view",
  "says": "Views"
 },
 {
  "takes": "page",
  "says": "Page"
 }
];
export const sets: { station: string; verbs: Verb[] }[] = [
 {
  "station": "",
  "verbs": [
   {
    "name": "part-off",
    "says": "Part off",
    "takes": "faces",
    "what": "The picked faces become a part of their own; at the Seams station a shell of their own.",
    "key": "P"
   },
   {
    "name": "clear-picked",
    "says": "Clear their map",
    "takes": "faces",
    "what": "Takes the map off the picked faces.",
    "needs": [
     "mapped"
    ],
    "rare": true
   },
   {
    "name": "flatten",
    "says": "Flatten",
    "takes": "shells",
    "what": "Lays the shell flat anew, by its shape.",
    "key": "E"
   },
   {
    "name": "turn",
    "says": "Quarter turn",
    "takes": "shells",
    "what": "Turns the shell by 90° counter-clockwise.",
    "key": "T"
   },
   {
    "name": "flip",
    "says": "Turn over",
    "takes": "shells",
    "what": "Left and right of the shell are exchanged.",
    "key": "O"
   },
   {
    "name": "turn-on",
    "says": "Turn by 15°",
    "takes": "shells",
    "what": "Turns the shell by 15° counter-clockwise.",
    "key": ".",
    "rare": true
   },
   {
    "name": "turn-back",
    "says": "Turn back by 15°",
    "takes": "shells",
    "what": "Turns the shell by 15° clockwise.",
    "key": ",",
    "rare": true
   },
   {
    "name": "likewise",
    "says": "Do likewise on its kind",
    "takes": "parts",
    "what": "Parts of the same kind, of other sizes and mirrored too, get its seams, its grain and its way of lying flat; where several are chosen, they follow the one chosen last.",
    "key": "Shift+R",
    "needs": [
     "chosen",
     "recognised"
    ]
   },
   {
    "name": "sign",
    "says": "Sign",
    "takes": "parts",
    "what": "You accept the chosen parts as they are, at all stations where nothing is wrong; the card shows what is still to be looked at.",
    "key": "Shift+T",
    "rare": true
   },
   {
    "name": "sign-here",
    "says": "Sign at this station",
    "takes": "parts",
    "what": "You accept what this station made of the chosen parts.",
    "rare": true
   },
   {
    "name": "unsign",
    "says": "No longer signed",
    "takes": "parts",
    "what": "The chosen parts are to be looked at again.",
    "rare": true
   },
   {
    "name": "sign-all",
    "says": "Sign all in order",
    "takes": "model",
    "what": "You accept every cell of the card where nothing is wrong.",
    "rare": true
   },
   {
    "name": "run",
    "says": "Run the whole job",
    "takes": "model",
    "what": "Recognises parts, opens walls, unrolls, straightens and packs; a map that came along is replaced."
   },
   {
    "name": "clear",
    "says": "Clear the map",
    "takes": "model",
    "what": "Takes the map off all faces.",
    "needs": [
     "mapped"
    ],
    "rare": true
   },
   {
    "name": "undo",
    "says": "Undo",
    "takes": "model",
    "what": "Takes the last edit back.",
    "key": "Ctrl+Z",
    "rare": true
   },
   {
    "name": "redo",
    "says": "Redo",
    "takes": "model",
    "what": "Makes what was taken back again.",
    "key": "Ctrl+Y",
    "rare": true
   },
   {
    "name": "again",
    "says": "Last verb again",
    "takes": "model",
    "what": "Does the verb that was done last to what is picked now.",
    "key": ";",
    "rare": true
   },
   {
    "name": "all",
    "says": "All",
    "takes": "choose",
    "what": "Picks all that can be picked: faces, edges or points of what is shown, or all shells.",
    "key": "Ctrl+A"
   },
   {
    "name": "invert",
    "says": "All others",
    "takes": "choose",
    "what": "Picks what is not picked instead of what is.",
    "key": "Ctrl+I"
   },
   {
    "name": "grow",
    "says": "Grow by a ring",
    "takes": "choose",
    "what": "Picks what lies beside the pick too.",
    "key": "+",
    "needs": [
     "picked"
    ],
    "of": [
     "points",
     "edges",
     "faces"
    ]
   },
   {
    "name": "shrink",
    "says": "Shrink by a ring",
    "takes": "choose",
    "what": "Lets go of what lies at the rim of the pick.",
    "key": "-",
    "needs": [
     "picked"
    ],
    "of": [
     "points",
     "edges",
     "faces"
    ]
   },
   {
    "name": "around",
    "says": "Border of the pick",
    "takes": "choose",
    "what": "Picks the edges around the picked faces.",
    "key": "#",
    "needs": [
     "picked"
    ],
    "of": [
     "faces"
    ]
   },
   {
    "name": "crease",
    "says": "To the crease",
    "takes": "choose",
    "what": "Picks faces on to the creases around them.",
    "key": "F",
    "needs": [
     "picked"
    ],
    "of": [
     "faces"
    ]
   },
   {
    "name": "facing",
    "says": "Facing alike …",
    "takes": "choose",
    "what": "Picks the faces that look the same way as the picked ones, within an angle.",
    "needs": [
     "picked"
    ],
    "of": [
     "faces"
    ],
    "form": true
   },
   {
    "name": "alike-material",
    "says": "Same material",
    "takes": "choose",
    "what": "Picks all faces of the materials of the pick.",
    "needs": [
     "picked"
    ],
    "of": [
     "faces",
     "shells"
    ]
   },
   {
    "name": "alike-size",
    "says": "Same size",
    "takes": "choose",
    "what": "Picks faces that are as large, or shells that are as wide and high, as the pick.",
    "needs": [
     "picked"
    ],
    "of": [
     "faces",
     "shells"
    ]
   },
   {
    "name": "alike-shape",
    "says": "Same shape",
    "takes": "choose",
    "what": "Picks all of parts that have the shape of the picked ones: all cylinders, say.",
    "needs": [
     "picked"
    ],
    "of": [
     "faces",
     "shells"
    ]
   },
   {
    "name": "alike-part",
    "says": "Same part",
    "takes": "choose",
    "what": "Picks all of the parts of the pick.",
    "needs": [
     "picked"
    ],
    "of": [
     "faces",
     "shells"
    ]
   },
   {
    "name": "repeats",
    "says": "On repeats",
    "takes": "choose",
    "what": "Picks the same faces or edges on all parts equal to theirs.",
    "needs": [
     "picked"
    ],
    "of": [
     "edges",
     "faces",
     "shells"
    ]
   },
   {
    "name": "mirrored",
    "says": "On the other half too",
    "takes": "choose",
    "what": "Picks the mirrored edges or faces as well: what is done next is done to both halves, also of a part that crosses the plane.",
    "key": "Shift+I",
    "needs": [
     "picked"
    ],
    "of": [
     "edges",
     "faces"
    ]
   },
   {
    "name": "halves",
    "says": "By halves",
    "takes": "choose",
    "what": "One mirrored half follows what is done on the other, until this is left again: picks, cuts, projections, flattening, straightening and grain appear there as they are made, mirrored on the sheet.",
    "key": "Shift+H",
    "rare": true
   },
   {
    "name": "halves-on",
    "says": "The other half on this one",
    "takes": "choose",
    "what": "By halves, what follows is stacked on what it follows, turned over, so that both show the same picture; or lies apart again.",
    "rare": true
   },
   {
    "name": "unmapped",
    "says": "Not mapped",
    "takes": "choose",
    "what": "Picks the faces that lie nowhere on the sheet.",
    "of": [
     "faces"
    ]
   },
   {
    "name": "pick-next",
    "says": "Pick another kind",
    "takes": "choose",
    "what": "Goes on from picking points to edges, from edges to faces, where the station knows several.",
    "key": "B",
    "rare": true
   },
   {
    "name": "sets",
    "says": "Pick sets …",
    "takes": "choose",
    "what": "Keeps what is picked under a name, and picks it again at any time.",
    "form": true
   },
   {
    "name": "drop",
    "says": "Let go",
    "takes": "choose",
    "what": "Lets go of what was begun, else of what is picked, else of what is chosen.",
    "key": "Esc"
   },
   {
    "name": "alone",
    "says": "Show alone",
    "takes": "view",
    "what": "Shows the picked faces, the chosen shells or the chosen parts only, in both views.",
    "key": "Q",
    "needs": [
     "chosen"
    ]
   },
   {
    "name": "aside",
    "says": "Set aside",
    "takes": "view",
    "what": "Takes the picked faces, the chosen shells or the chosen parts out of the picture.",
    "key": "W",
    "needs": [
     "chosen"
    ]
   },
   {
    "name": "everything",
    "says": "Show all",
    "takes": "view",
    "what": "Shows all parts again.",
    "key": "R"
   },
   {
    "name": "through",
    "says": "See-through",
    "takes": "view",
    "what": "Regions also pick what is hidden from view.",
    "key": "Shift+Q"
   },
   {
    "name": "frame",
    "says": "Frame everything",
    "takes": "view",
    "what": "Both views show all of the chosen part, or of the model.",
    "key": "Home"
   },
   {
    "name": "go-there",
    "says": "Go to the pick",
    "takes": "view",
    "what": "Both views show what is picked or chosen as large as it fits.",
    "key": "Z"
   },
   {
    "name": "parallel",
    "says": "Parallel or perspective",
    "takes": "view",
    "what": "Looks at the model without perspective, or with it again.",
    "key": "0",
    "rare": true
   },
   {
    "name": "clip-more",
    "says": "Look further inside",
    "takes": "view",
    "what": "Clips the near side of the model away, a twentieth of it each time.",
    "key": "\u003e",
    "rare": true
   },
   {
    "name": "clip-less",
    "says": "Look less far inside",
    "takes": "view",
    "what": "Brings what was clipped away last back.",
    "key": "\u003c",
    "rare": true
   },
   {
    "name": "unclip",
    "says": "Nothing clipped",
    "takes": "view",
    "what": "The model is whole again.",
    "rare": true
   },
   {
    "name": "follow",
    "says": "Views follow each other",
    "takes": "view",
    "what": "What is picked in one view is brought into sight in the other, or no longer.",
    "key": "Shift+V",
    "rare": true
   },
   {
    "name": "large-piece",
    "says": "Model alone",
    "takes": "view",
    "what": "The model has all the room, or no longer.",
    "key": "Shift+P",
    "rare": true
   },
   {
    "name": "large-sheet",
    "says": "Sheet alone",
    "takes": "view",
    "what": "The sheet has all the room, or no longer.",
    "key": "Shift+U",
    "rare": true
   },
   {
    "name": "swap-views",
    "says": "Swap the views",
    "takes": "view",
    "what": "Model and sheet change places.",
    "key": "Shift+W",
    "rare": true
   },
   {
    "name": "from-front",
    "says": "From the front",
    "takes": "view",
    "what": "Looks at the model from its front; again, from behind.",
    "key": "7",
    "rare": true
   },
   {
    "name": "from-side",
    "says": "From the side",
    "takes": "view",
    "what": "Looks at the model from its right; again, from its left.",
    "key": "8",
    "rare": true
   },
   {
    "name": "from-above",
    "says": "From above",
    "takes": "view",
    "what": "Looks at the model from above; again, from below.",
    "key": "9",
    "rare": true
   },
   {
    "name": "show-parts",
    "says": "Show parts",
    "takes": "view",
    "what": "Model and sheet in the tints of the parts.",
    "key": "Shift+1",
    "rare": true
   },
   {
    "name": "show-cloth",
    "says": "Show the proof cloth",
    "takes": "view",
    "what": "Model and sheet with a pattern or a material.",
    "key": "Shift+2",
    "rare": true
   },
   {
    "name": "show-stretch",
    "says": "Show stretch",
    "takes": "view",
    "what": "How much longer one way than the other.",
    "key": "Shift+3",
    "rare": true
   },
   {
    "name": "show-area",
    "says": "Show area",
    "takes": "view",
    "what": "Area in space against area on the sheet.",
    "key": "Shift+4",
    "rare": true
   },
   {
    "name": "show-density",
    "says": "Show density",
    "takes": "view",
    "what": "How sharp a texture is, against the mean.",
    "key": "Shift+5",
    "rare": true
   },
   {
    "name": "show-grain",
    "says": "Show grain",
    "takes": "view",
    "what": "How far textures run off the wished direction.",
    "key": "Shift+6",
    "rare": true
   },
   {
    "name": "show-exposure",
    "says": "Show exposure",
    "takes": "view",
    "what": "How visible each place is.",
    "key": "Shift+7",
    "rare": true
   },
   {
    "name": "show-painted",
    "says": "Show what is painted",
    "takes": "view",
    "what": "The painted picture on the model.",
    "key": "Shift+8",
    "rare": true
   },
   {
    "name": "shown-take",
    "says": "Take",
    "takes": "begun",
    "what": "Does what is shown.",
    "key": "Enter",
    "rare": true
   },
   {
    "name": "shown-stop",
    "says": "Stop here",
    "takes": "begun",
    "what": "Stops what is shown step by step; the last picture can be taken.",
    "key": "S",
    "rare": true
   },
   {
    "name": "shown-swap",
    "says": "Other one stays",
    "takes": "begun",
    "what": "Of two shells that are joined, the other one stays where it is.",
    "key": "M",
    "rare": true
   },
   {
    "name": "palette",
    "says": "All verbs",
    "takes": "page",
    "what": "Every verb, part and station by its name.",
    "key": "Ctrl+K",
    "rare": true
   },
   {
    "name": "help",
    "says": "Keys and help",
    "takes": "page",
    "what": "All keys and what verbs do.",
    "key": "?",
    "rare": true
   },
   {
    "name": "first",
    "says": "The first job",
    "takes": "page",
    "what": "Leads through a whole job, a step at a time.",
    "rare": true
   },
   {
    "name": "to-parts",
    "says": "Go to Parts",
    "takes": "page",
    "what": "What the model reads as.",
    "key": "1",
    "rare": true
   },
   {
    "name": "to-project",
    "says": "Go to Project",
    "takes": "page",
    "what": "Projections for parts and picked faces.",
    "key": "2",
    "rare": true
   },
   {
    "name": "to-seams",
    "says": "Go to Seams",
    "takes": "page",
    "what": "Cuts, joins and suggestions.",
    "key": "3",
    "rare": true
   },
   {
    "name": "to-flow",
    "says": "Go to Flow",
    "takes": "page",
    "what": "Flattening, straightening, grain.",
    "key": "4",
    "rare": true
   },
   {
    "name": "to-sheet",
    "says": "Go to Sheet",
    "takes": "page",
    "what": "Packing and laying by hand.",
    "key": "5",
    "rare": true
   },
   {
    "name": "to-proof",
    "says": "Go to Proof",
    "takes": "page",
    "what": "Findings and maps of what is measured.",
    "key": "6",
    "rare": true
   },
   {
    "name": "filter",
    "says": "Filter the card",
    "takes": "page",
    "what": "Parts by a word of their name or shape.",
    "key": "Shift+F",
    "rare": true
   },
   {
    "name": "worklog",
    "says": "Worklog",
    "takes": "page",
    "what": "Every edit, with what it changed.",
    "key": "Shift+L",
    "rare": true
   },
   {
    "name": "maps",
    "says": "Maps",
    "takes": "page",
    "what": "The maps of this model: show, make, name, copy shells to.",
    "key": "Shift+M",
    "rare": true
   },
   {
    "name": "sealing",
    "says": "Seal",
    "takes": "page",
    "what": "Whether what lies on this map may move.",
    "key": "Shift+S",
    "rare": true
   },
   {
    "name": "deliver",
    "says": "Deliver",
    "takes": "page",
    "what": "Files for painting and baking, with the proof.",
    "key": "Shift+D",
    "rare": true
   }
  ]
 },
 {
  "station": "Parts",
  "verbs": [
   {
    "name": "assign",
    "says": "Give to the part",
    "takes": "faces",
    "what": "The picked faces become faces of the chosen part.",
    "needs": [
     "one part"
    ]
   },
   {
    "name": "recognise-part",
    "says": "Recognise again …",
    "takes": "parts",
    "what": "Reads the chosen parts anew, with the tolerance and crease angle that are set.",
    "form": true
   },
   {
    "name": "split",
    "says": "Take apart",
    "takes": "parts",
    "what": "Makes parts of what the part was read as.",
    "key": "A",
    "needs": [
     "one part"
    ]
   },
   {
    "name": "unite",
    "says": "Unite with its own",
    "takes": "parts",
    "what": "One part of it and what it belongs with.",
    "key": "U",
    "needs": [
     "one part"
    ]
   },
   {
    "name": "merge",
    "says": "Merge chosen",
    "takes": "parts",
    "what": "One part of all that are chosen.",
    "key": "M",
    "needs": [
     "several parts"
    ]
   },
   {
    "name": "lock",
    "says": "Lock or unlock",
    "takes": "parts",
    "what": "Recognising leaves locked parts as they are."
   },
   {
    "name": "rename",
    "says": "Rename …",
    "takes": "parts",
    "what": "Another name for the part.",
    "key": "N",
    "needs": [
     "one part"
    ],
    "form": true
   },
   {
    "name": "weigh",
    "says": "Room on the sheet …",
    "takes": "parts",
    "what": "How much room the parts get beside others: 2 is twice as sharp.",
    "form": true
   },
   {
    "name": "give",
    "says": "Give map to repeats",
    "takes": "parts",
    "what": "All parts like it get its seams and its map.",
    "needs": [
     "one part",
     "repeats"
    ]
   },
   {
    "name": "stack",
    "says": "Stack repeats",
    "takes": "parts",
    "what": "All parts like it get its map, at the same place of the sheet.",
    "needs": [
     "one part",
     "repeats"
    ]
   },
   {
    "name": "turn-detail",
    "says": "Fewer or more parts …",
    "takes": "model",
    "what": "From few parts to every piece; what reads the same keeps its map.",
    "needs": [
     "recognised"
    ],
    "form": true
   },
   {
    "name": "recognise",
    "says": "Recognise all …",
    "takes": "model",
    "what": "Reads the whole model anew; this clears the map.",
    "form": true
   },
   {
    "name": "follow-mirror",
    "says": "Mirrored half follows",
    "takes": "model",
    "what": "Parts that are mirror images get the seams and the map of their first.",
    "needs": [
     "mapped"
    ]
   }
  ]
 },
 {
  "station": "Project",
  "verbs": [
   {
    "name": "lay",
    "says": "Lay it so",
    "takes": "begun",
    "what": "Lays the faces by the projection that is set up."
   },
   {
    "name": "settings",
    "says": "Axis, up, centre …",
    "takes": "begun",
    "what": "Where the projection stands in space.",
    "key": "A",
    "form": true
   },
   {
    "name": "lay-jig",
    "says": "Lay by a jig …",
    "takes": "parts",
    "what": "The picked faces, or the part, get the real size and the up of a jig; courses meet at corners.",
    "key": "J",
    "form": true
   },
   {
    "name": "keep-jig",
    "says": "Keep as a jig …",
    "takes": "begun",
    "what": "Keeps the projection that is set up under a name, for all models of the project.",
    "form": true
   },
   {
    "name": "clear-these",
    "says": "Clear its map",
    "takes": "parts",
    "what": "Takes the map off the picked faces, else off the chosen part.",
    "needs": [
     "mapped"
    ]
   }
  ]
 },
 {
  "station": "Seams",
  "verbs": [
   {
    "name": "cut",
    "says": "Cut",
    "takes": "edges",
    "what": "The picked edges become seams.",
    "key": "C"
   },
   {
    "name": "close",
    "says": "Close",
    "takes": "edges",
    "what": "The picked edges are seams no longer.",
    "key": "V"
   },
   {
    "name": "join",
    "says": "Join",
    "takes": "edges",
    "what": "Unites two shells along the picked edges; shown first with its cost.",
    "key": "J",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "hold",
    "says": "Stay attached",
    "takes": "edges",
    "what": "Suggestions never cut the picked edges."
   },
   {
    "name": "let-go",
    "says": "May be cut again",
    "takes": "edges",
    "what": "Suggestions decide again about the picked edges."
   },
   {
    "name": "same",
    "says": "Same on its repeats",
    "takes": "edges",
    "what": "Does what was done last to the same edges of all parts like it.",
    "rare": true
   },
   {
    "name": "hand-over",
    "says": "Hand over",
    "takes": "faces",
    "what": "The picked strip goes to the shell beside it.",
    "key": "H",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "join-group",
    "says": "Join their shells …",
    "takes": "faces",
    "what": "Unites the shells of the picked faces as far as a stretch allows.",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "keep-whole",
    "says": "Keep whole",
    "takes": "faces",
    "what": "Suggestions never cut between the picked faces."
   },
   {
    "name": "let-cut",
    "says": "Let be cut",
    "takes": "faces",
    "what": "Suggestions may cut between the picked faces again."
   },
   {
    "name": "turn-dial",
    "says": "Fewer or more seams …",
    "takes": "model",
    "what": "All seams anew, from fewer pieces to less stretch.",
    "key": "D",
    "needs": [
     "recognised"
    ],
    "form": true
   },
   {
    "name": "view",
    "says": "Viewing sides …",
    "takes": "model",
    "what": "How much the model is looked at from each side: seams go where it is looked at least.",
    "form": true
   },
   {
    "name": "take-all",
    "says": "Take all suggestions",
    "takes": "model",
    "what": "Makes all cuts that are suggested.",
    "rare": true
   },
   {
    "name": "loop",
    "says": "Loop",
    "takes": "choose",
    "what": "The loop of the edge picked last; a double click does the same.",
    "key": "G",
    "needs": [
     "picked"
    ],
    "of": [
     "edges"
    ]
   },
   {
    "name": "carry-on",
    "says": "Loop carried on",
    "takes": "choose",
    "what": "The picked loop goes on over the points it ends at.",
    "key": "Y",
    "needs": [
     "picked"
    ],
    "of": [
     "edges"
    ]
   },
   {
    "name": "ring",
    "says": "Ring",
    "takes": "choose",
    "what": "The edges beside the one picked last, across faces.",
    "key": "N",
    "needs": [
     "picked"
    ],
    "of": [
     "edges"
    ]
   },
   {
    "name": "chain",
    "says": "Chain to here",
    "takes": "choose",
    "what": "Edges from the one picked last to the pointer, along creases.",
    "key": "X",
    "needs": [
     "picked"
    ],
    "of": [
     "edges"
    ]
   },
   {
    "name": "chain-short",
    "says": "Chain the short way",
    "takes": "choose",
    "what": "Edges from the one picked last to the pointer, the shortest way.",
    "key": "Shift+X",
    "needs": [
     "picked"
    ],
    "of": [
     "edges"
    ],
    "rare": true
   },
   {
    "name": "borders",
    "says": "Open borders",
    "takes": "choose",
    "what": "All edges that have a face on one side only.",
    "of": [
     "edges"
    ]
   },
   {
    "name": "above",
    "says": "Edges that bend …",
    "takes": "choose",
    "what": "All edges that bend by an angle or more.",
    "of": [
     "edges"
    ],
    "form": true
   }
  ]
 },
 {
  "station": "Flow",
  "verbs": [
   {
    "name": "pin",
    "says": "Pin",
    "takes": "points",
    "what": "The picked points stay where they are.",
    "key": "D"
   },
   {
    "name": "relax-around",
    "says": "Relax around",
    "takes": "points",
    "what": "Evens the shell out near the picked points.",
    "key": "I",
    "form": true
   },
   {
    "name": "unpin",
    "says": "Unpin",
    "takes": "model",
    "what": "The picked points may move again; all that are pinned where none is picked.",
    "needs": [
     "pins"
    ]
   },
   {
    "name": "carry-over",
    "says": "Pattern over the seam",
    "takes": "edges",
    "what": "A tiling pattern goes on over the picked seams; the shell clicked last stays.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "carry-tiling",
    "says": "So, in a tiling map",
    "takes": "edges",
    "what": "The shells are copied to a tiling map, where they may lie on each other, and the pattern carried over there.",
    "needs": [
     "mapped",
     "painting"
    ]
   },
   {
    "name": "by-edge",
    "says": "Lay along the sheet",
    "takes": "edges",
    "what": "The shell turns so that the picked edges lie along the sheet.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "true-picked",
    "says": "Straighten these loops",
    "takes": "edges",
    "what": "The loops of the picked edges become straight along the sheet.",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "fill",
    "says": "Fill their hole",
    "takes": "faces",
    "what": "Flattens the picked faces into the hole they leave; all else keeps its place.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "label",
    "says": "Word on them …",
    "takes": "faces",
    "what": "The picked faces carry a word: it stands upright on the sheet and reads on the model.",
    "form": true
   },
   {
    "name": "turn-label",
    "says": "Word on its side",
    "takes": "faces",
    "what": "The word of the clicked face stands a quarter turn on.",
    "needs": [
     "label"
    ]
   },
   {
    "name": "true-up",
    "says": "True up",
    "takes": "shells",
    "what": "Its loops become straight along the sheet; the cost is shown first.",
    "key": "U",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "relax",
    "says": "Relax",
    "takes": "shells",
    "what": "Evens the shell out.",
    "key": "I",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "watch",
    "says": "Flatten by …",
    "takes": "shells",
    "what": "The ways of flattening, step by step; stop where it is good enough.",
    "key": "N",
    "form": true
   },
   {
    "name": "set-grain",
    "says": "Grain …",
    "takes": "parts",
    "what": "Which way a texture shall run on the chosen parts.",
    "key": "G",
    "form": true
   },
   {
    "name": "draw-grain",
    "says": "Draw the grain",
    "takes": "parts",
    "what": "Drag a stroke on the part: the texture runs along it.",
    "key": "Shift+G"
   },
   {
    "name": "by-loops",
    "says": "Orient by loops",
    "takes": "shells",
    "what": "Its loops along the sheet, its grain along, up upwards.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "turn-by",
    "says": "Turn by …",
    "takes": "shells",
    "what": "Turns the shell by any angle.",
    "needs": [
     "mapped"
    ],
    "form": true,
    "rare": true
   },
   {
    "name": "to-pixels",
    "says": "Snap to pixels",
    "takes": "shells",
    "what": "Straight borders of the shell come to lie on whole pixels.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "true-all",
    "says": "True up all",
    "takes": "model",
    "what": "All shells that gain by it; what finds no room where it lay waits on the rack. Shown first.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "orient-all",
    "says": "Orient all by loops",
    "takes": "model",
    "what": "Loops of all shells along the sheet, grain along, up upwards.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "flatten-all",
    "says": "Flatten all",
    "takes": "model",
    "what": "Lays every shell flat anew, by its shape."
   },
   {
    "name": "unmirror",
    "says": "Mirrored ones over",
    "takes": "model",
    "what": "Turns all shells over that are mirrored.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "carry-material",
    "says": "Pattern over a material",
    "takes": "model",
    "what": "A tiling pattern goes on over all seams between shells of the material clicked last.",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "snap",
    "says": "Snapping on or off",
    "takes": "choose",
    "what": "Dragged points snap to whole pixels and to other points; with Alt they do not.",
    "of": [
     "points"
    ]
   },
   {
    "name": "reach",
    "says": "Falloff …",
    "takes": "choose",
    "what": "How far a dragged point takes others along.",
    "of": [
     "points"
    ],
    "form": true
   }
  ]
 },
 {
  "station": "Sheet",
  "verbs": [
   {
    "name": "to-rack",
    "says": "To the rack",
    "takes": "shells",
    "what": "The shells wait beside the sheet.",
    "key": "D"
   },
   {
    "name": "into-room",
    "says": "Into free room",
    "takes": "shells",
    "what": "Lays the shells where others leave room; those stay.",
    "key": "F"
   },
   {
    "name": "hold",
    "says": "Lock or unlock",
    "takes": "shells",
    "what": "Packing neither moves nor scales locked shells.",
    "key": "G"
   },
   {
    "name": "stack",
    "says": "Stack on the first",
    "takes": "shells",
    "what": "All onto the one that was chosen first; shown first with what it costs.",
    "key": "S"
   },
   {
    "name": "align",
    "says": "Align …",
    "takes": "shells",
    "what": "Sides or middles on one line, equal gaps, a row, a column.",
    "key": "A",
    "form": true
   },
   {
    "name": "fit",
    "says": "Fit into …",
    "takes": "shells",
    "what": "As large as the sheet, or a rectangle you draw, allows; or onto whole pixels.",
    "form": true
   },
   {
    "name": "density",
    "says": "Density …",
    "takes": "shells",
    "what": "How many pixels a length gets: set, made equal, taken over.",
    "key": "N",
    "form": true
   },
   {
    "name": "divide",
    "says": "Divide in …",
    "takes": "shells",
    "what": "Cut across in so many pieces; shown first with what it costs and brings.",
    "form": true
   },
   {
    "name": "unstack",
    "says": "Take out of the stack",
    "takes": "shells",
    "what": "The chosen ones come to the rack."
   },
   {
    "name": "spread",
    "says": "Spread the stack",
    "takes": "shells",
    "what": "Each of the stack is laid where there is room.",
    "rare": true
   },
   {
    "name": "offset",
    "says": "Stack a tile aside",
    "takes": "shells",
    "what": "Those that lie on another go a tile to the right, so that each place is baked once; again, they come back.",
    "rare": true
   },
   {
    "name": "turn-by",
    "says": "Turn by …",
    "takes": "shells",
    "what": "Turns the shells by any angle, together or each about its own middle.",
    "form": true,
    "rare": true
   },
   {
    "name": "pack",
    "says": "Pack",
    "takes": "model",
    "what": "Lays all shells as large as they get; what was laid by hand stays, and only what waits is laid.",
    "key": "K"
   },
   {
    "name": "pack-all",
    "says": "Pack all anew …",
    "takes": "model",
    "what": "Packs all, what was laid by hand too, as is wished.",
    "key": "Shift+K",
    "form": true
   },
   {
    "name": "fill",
    "says": "Lay what waits",
    "takes": "model",
    "what": "Into the room that those on the sheet leave, which stay where they are.",
    "needs": [
     "waiting"
    ]
   },
   {
    "name": "improve",
    "says": "Improve",
    "takes": "model",
    "what": "Moves shells about so that all can be larger, round by round; stop it when it is good enough.",
    "key": "I",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "arrange",
    "says": "As on the model …",
    "takes": "model",
    "what": "Neighbours together, above what is above; its price in fill is shown first.",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "lanes",
    "says": "Divide what rules it",
    "takes": "model",
    "what": "Shells that are too long for the sheet, or waste it, are cut across; shown first with what it costs and brings.",
    "key": "Shift+N",
    "needs": [
     "mapped"
    ]
   },
   {
    "name": "set-sheet",
    "says": "Sheet …",
    "takes": "model",
    "what": "Its size and tiles, how far shells are apart, how packing may turn them, what is stacked.",
    "key": "H",
    "form": true
   },
   {
    "name": "density-all",
    "says": "One density …",
    "takes": "model",
    "what": "How many pixels a length gets, for all or a material.",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "weigh-hidden",
    "says": "Less for hidden ones …",
    "takes": "model",
    "what": "Insides and undersides weigh less, in one go.",
    "needs": [
     "mapped"
    ],
    "form": true
   },
   {
    "name": "need",
    "says": "What density is needed …",
    "takes": "model",
    "what": "From how near and on what screen it is seen.",
    "form": true
   },
   {
    "name": "racked",
    "says": "Those on the rack",
    "takes": "choose",
    "what": "Chooses the shells that wait beside the sheet."
   },
   {
    "name": "drag-to",
    "says": "Dragging snaps to …",
    "takes": "choose",
    "what": "What dragged shells snap to: borders of others, whole pixels, a raster, nothing.",
    "form": true
   }
  ]
 },
 {
  "station": "Proof",
  "verbs": [
   {
    "name": "accept",
    "says": "Accept …",
    "takes": "choose",
    "what": "The chosen finding may stay, for a reason; it is told apart from then on.",
    "key": "A",
    "needs": [
     "finding"
    ],
    "form": true
   },
   {
    "name": "withdraw",
    "says": "No longer accept",
    "takes": "choose",
    "what": "The chosen finding is one again.",
    "needs": [
     "finding"
    ]
   },
   {
    "name": "next",
    "says": "Next finding",
    "takes": "choose",
    "what": "Goes on to the next place where something is wrong.",
    "key": "N"
   },
   {
    "name": "previous",
    "says": "Finding before",
    "takes": "choose",
    "what": "Goes back to the place before.",
    "key": "Shift+N",
    "rare": true
   },
   {
    "name": "mend",
    "says": "Mend it",
    "takes": "choose",
    "what": "Mends the chosen finding, where that is known; shown first.",
    "key": "M",
    "needs": [
     "finding",
     "mendable"
    ]
   },
   {
    "name": "mark",
    "says": "Mark this state",
    "takes": "model",
    "what": "What is found from now on is told as new."
   },
   {
    "name": "forget-mark",
    "says": "Forget the mark",
    "takes": "model",
    "what": "Nothing is told as new any more."
   },
   {
    "name": "compare",
    "says": "Before and after",
    "takes": "model",
    "what": "Any two states, maps or revisions in the same views."
   },
   {
    "name": "report",
    "says": "Report",
    "takes": "model",
    "what": "What is measured, to print."
   }
  ]
 }
];
