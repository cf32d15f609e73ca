// A photo is made smaller before it is sent: a telephone's is larger than what a form may hold.

const field = document.querySelector("#photo-form input[type=file]");
const LONGEST_PX = 1600;

async function smaller(file) {
  const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
  const scale = Math.min(1, LONGEST_PX / Math.max(picture.width, picture.height));
  const canvas = new OffscreenCanvas(Math.round(picture.width * scale), Math.round(picture.height * scale));
  canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
  const blob = await canvas.convertToBlob({ type: "image/jpeg", quality: 0.85 });
  return new File([blob], "photo.jpg", { type: "image/jpeg" });
}

field?.addEventListener("change", async () => {
  const [file] = field.files;
  if (!file || file.size < 1_000_000) return;
  try {
    const held = new DataTransfer();
    held.items.add(await smaller(file));
    field.files = held.files;
  } catch {
    // no picture that this browser can read: the server says so
  }
});
