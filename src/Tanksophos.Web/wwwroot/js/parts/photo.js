// A photo is made small enough on the device before it travels; what cannot be drawn goes as it is and is judged by the server.
export default () => ({
  busy: false,
  async shrink(event) {
    const input = event.target, file = input.files[0];
    if (!file || !window.createImageBitmap) return;
    this.busy = true;
    try {
      const picture = await createImageBitmap(file, { imageOrientation: 'from-image' });
      const scale = Math.min(1, 1600 / Math.max(picture.width, picture.height));
      if (scale < 1 || file.size >= 1048576) {
        const canvas = document.createElement('canvas');
        canvas.width = Math.round(picture.width * scale);
        canvas.height = Math.round(picture.height * scale);
        canvas.getContext('2d').drawImage(picture, 0, 0, canvas.width, canvas.height);
        const blob = await new Promise(done => canvas.toBlob(done, 'image/jpeg', 0.85));
        if (blob) {
          const small = new DataTransfer();
          small.items.add(new File([blob], 'photo.jpg', { type: 'image/jpeg' }));
          input.files = small.files;
        }
      }
    } catch { /* it goes as it is */ }
    this.busy = false;
  },
});
