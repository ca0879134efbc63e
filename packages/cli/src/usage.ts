/** Wrong usage of the command line: exit code 2. */
export class UsageError extends Error {}

export const HELP = {
  main: `dusting: the bench on the command line

  dusting render SCENE.glb --out PROOF.exr    render a proof
  dusting inspect PICTURE                     list what a picture holds
  dusting diagnose KIND SCENE|PICTURE         explain a defect with numbers
  dusting repair FRAME.exr --out FIXED.exr    replace the fireflies of a finished frame
  dusting denoise PROOF.exr --out LOOK.exr    the look without noise
  dusting drift SCENE                         where preview and final settings differ
  dusting tint --wanted R,G,B                 the tint for a colour behind glass

Each command has --help. Exit code 1: bad input; 2: wrong usage.`,
  render: `dusting render SCENE.glb --out PROOF.exr

  --size 640x360           size of the frame in pixels
  --camera NAME            name or id of the camera
  --region x,y,w,h         render only this part of the frame, in pixels from the top left corner
  --set PATH=VALUE         change a setting, such as final.pixelSamples=256; may be repeated
  --settings FILE.json     settings laid over the imported scene
  --use preview|final      which of the two sets of settings to render with (final)
  --seed N                 seed of all samples
  --threads N              worker threads (all cores); does not change the result
  --json                   print one JSON object with times, rays, noise and findings`,
  inspect: `dusting inspect PICTURE

  --region x,y,w,h         look only at this part, in pixels from the top left corner
  --json                   print one JSON object`,
  diagnose: `dusting diagnose KIND SCENE|PICTURE

  KIND                     noise, fireflies, glass, occlusion, displacement, shadow, drift (preview and final
                           differ), or other: light that depth limits and clamps cut off
  SCENE                    is rendered, once more where the diagnosis needs it
  PICTURE                  a proof, or a frame of another renderer: its noise is then estimated from its pixels
  --region x,y,w,h         the part of the frame to explain (all of it)
  --expect OBJECT          name or id of the object whose shadow should be there (shadow)
  --before, --after FILE   the frames before and after a PICTURE: what they show as well is no firefly (fireflies)
  --data FOLDER            where data go that are too large for the answer, which names them (occlusion: hit distances of
                           every pixel)
  --map FILE               displacement map of a SCENE that is a mesh without a camera: it is shown with a camera and a sun of
                           its own (displacement)
  --noise-limit N          greatest noise allowed, L* (that of the scene's settings, or 1)
  --size, --camera, --set, --settings, --use, --seed, --threads: as for render, where a scene is given
  --json                   print the diagnosis as one JSON object: causes, evidence, and remedies as patches (RFC 6902)`,
  repair: `dusting repair FRAME.exr --out FIXED.exr

  FRAME                    a proof, or a frame of another renderer: then small highlights may be taken for fireflies
  --before, --after FILE   the frames before and after, from which a pixel is taken where nothing moved there
  --json                   print one JSON object with the number of pixels replaced

Fireflies and pixels that are not a number are replaced in every layer of light; all others keep their bits. The layer
"repaired" is 1 where a pixel was replaced.`,
  denoise: `dusting denoise PROOF.exr --out LOOK.exr

  --json                   print one JSON object

A look without noise, guided by albedo, normal, depth and the measured error: for looking, not for measuring.`,
  drift: `dusting drift SCENE

  --set PATH=VALUE, --settings FILE.json: as for render
  --json                   print one JSON array of the settings that differ

Lists what differs, what it changes (light, layer, noise, size), and by which settings the final shows less light.`,
  tint: `dusting tint --wanted R,G,B

  --wanted R,G,B           linear colour wanted behind the glass, of white light that comes straight on
  --walls N                walls that the light passes (1)
  --thickness METRES       of each wall, for absorption (0)
  --ior N                  index of refraction (1.5)
  --thin                   the surface is thin-walled: one pane is one wall
  --json                   print one JSON object`,
};
