package servitor.documents;

import com.drew.imaging.ImageMetadataReader;
import com.drew.imaging.ImageProcessingException;
import com.drew.metadata.MetadataException;
import com.drew.metadata.exif.ExifIFD0Directory;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.AffineTransform;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.Iterator;
import java.util.List;
import javax.imageio.ImageIO;
import javax.imageio.ImageReadParam;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;

/**
 * A picture as it is shown: upright, no larger than a screen, and with nothing but its dots, so that neither the place it was taken at nor
 * what took it is passed on.
 *
 * @param width in dots, when upright
 */
record Picture(int width, int height, int orientation, ImageSource source) {
    /** The longest side of what is shown, in dots. */
    static final int LONGEST_SIDE = 1_400;

    private static final long MOST_DOTS = 100_000_000;

    /** Gives the dots, every n-th of them. */
    interface ImageSource {
        BufferedImage every(int nth) throws IOException;
    }

    /** The picture in a file. */
    static Picture of(byte[] content) throws IOException, Unreadable {
        int orientation = orientation(content);
        try (ImageInputStream in = ImageIO.createImageInputStream(new ByteArrayInputStream(content))) {
            ImageReader reader = reader(in);
            int width = reader.getWidth(0);
            int height = reader.getHeight(0);
            reader.dispose();
            if ((long) width * height > MOST_DOTS) {
                throw new Unreadable(ReadOutcome.TOO_LARGE, "it has " + width + " × " + height + " dots");
            }
            boolean turned = orientation >= 5;
            return new Picture(
                    turned ? height : width, turned ? width : height, orientation, nth -> dots(content, nth));
        }
    }

    private static ImageReader reader(ImageInputStream in) throws IOException, Unreadable {
        Iterator<ImageReader> readers = ImageIO.getImageReaders(in);
        if (!readers.hasNext()) {
            throw new Unreadable(ReadOutcome.NOT_SUPPORTED, "pictures of this sort aren't shown");
        }
        ImageReader reader = readers.next();
        reader.setInput(in, true, true);
        return reader;
    }

    private static BufferedImage dots(byte[] content, int nth) throws IOException {
        try (ImageInputStream in = ImageIO.createImageInputStream(new ByteArrayInputStream(content))) {
            ImageReader reader = ImageIO.getImageReaders(in).next();
            reader.setInput(in, true, true);
            ImageReadParam param = reader.getDefaultReadParam();
            param.setSourceSubsampling(nth, nth, 0, 0);
            return reader.read(0, param);
        }
    }

    /** How the camera was held, from 1 to 8 (Exif 2.32, section 4.6.5, tag 274). */
    private static int orientation(byte[] content) {
        try {
            ExifIFD0Directory tags = ImageMetadataReader.readMetadata(new ByteArrayInputStream(content))
                    .getFirstDirectoryOfType(ExifIFD0Directory.class);
            int told = tags == null || !tags.containsTag(ExifIFD0Directory.TAG_ORIENTATION)
                    ? 1
                    : tags.getInt(ExifIFD0Directory.TAG_ORIENTATION);
            return told >= 1 && told <= 8 ? told : 1;
        } catch (ImageProcessingException | IOException | MetadataException e) {
            return 1; // a picture without
        }
    }

    /** What is known of it without a look. */
    ReadDocument read(String type) {
        return new ReadDocument(
                ReadOutcome.NO_TEXT,
                type,
                "a picture of " + width + " × " + height + " dots" + (orientation == 1 ? "" : ", turned upright"),
                List.of(new ReadDocument.Page(1, "")),
                List.of());
    }

    /** As PNG (RFC 2083). */
    byte[] png() throws IOException {
        int longest = Math.max(width, height);
        return png(upright(source.every(Math.max(1, longest / LONGEST_SIDE)), orientation));
    }

    static byte[] png(BufferedImage image) throws IOException {
        double scale = Math.min(1, (double) LONGEST_SIDE / Math.max(image.getWidth(), image.getHeight()));
        int width = Math.max(1, (int) Math.round(image.getWidth() * scale));
        int height = Math.max(1, (int) Math.round(image.getHeight() * scale));
        BufferedImage shown = new BufferedImage(width, height, BufferedImage.TYPE_INT_RGB);
        Graphics2D canvas = shown.createGraphics();
        canvas.setRenderingHint(RenderingHints.KEY_INTERPOLATION, RenderingHints.VALUE_INTERPOLATION_BILINEAR);
        canvas.setColor(java.awt.Color.WHITE);
        canvas.fillRect(0, 0, width, height);
        canvas.drawImage(image, 0, 0, width, height, null);
        canvas.dispose();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ImageIO.write(shown, "png", out);
        return out.toByteArray();
    }

    private static BufferedImage upright(BufferedImage image, int orientation) {
        if (orientation == 1) {
            return image;
        }
        int width = image.getWidth();
        int height = image.getHeight();
        AffineTransform turn = switch (orientation) {
            case 2 -> new AffineTransform(-1, 0, 0, 1, width, 0);
            case 3 -> new AffineTransform(-1, 0, 0, -1, width, height);
            case 4 -> new AffineTransform(1, 0, 0, -1, 0, height);
            case 5 -> new AffineTransform(0, 1, 1, 0, 0, 0);
            case 6 -> new AffineTransform(0, 1, -1, 0, height, 0);
            case 7 -> new AffineTransform(0, -1, -1, 0, height, width);
            default -> new AffineTransform(0, -1, 1, 0, 0, width);
        };
        boolean turned = orientation >= 5;
        BufferedImage upright =
                new BufferedImage(turned ? height : width, turned ? width : height, BufferedImage.TYPE_INT_RGB);
        Graphics2D canvas = upright.createGraphics();
        canvas.drawImage(image, turn, null);
        canvas.dispose();
        return upright;
    }
}
