package servitor.documents;

import static org.assertj.core.api.Assertions.assertThat;

import com.drew.imaging.ImageMetadataReader;
import com.drew.metadata.Directory;
import com.drew.metadata.exif.ExifDirectoryBase;
import com.drew.metadata.exif.GpsDirectory;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.util.List;
import java.util.Objects;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import servitor.core.document.ReadOutcome;

/** Pages and photos as they are shown, by processes of their own. */
class PictureTests {
    private static final Reading READING = Reading.within(Duration.ofSeconds(30));

    @AfterAll
    static void close() {
        READING.close();
    }

    private static byte[] sample(String name) {
        try (InputStream in =
                Objects.requireNonNull(PictureTests.class.getResourceAsStream("/test-documents/" + name))) {
            return in.readAllBytes();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static BufferedImage shown(byte[] content, int page) throws Exception {
        return ImageIO.read(
                new ByteArrayInputStream(READING.picture(content, "it", page).orElseThrow()));
    }

    private static long dark(BufferedImage image) {
        long dark = 0;
        for (int x = 0; x < image.getWidth(); x++) {
            for (int y = 0; y < image.getHeight(); y++) {
                dark += (image.getRGB(x, y) & 0xff) < 100 ? 1 : 0;
            }
        }
        return dark;
    }

    @Test
    void aPageOfAPdfIsShownAndOneItHasntIsnt() throws Exception {
        byte[] pdf = Samples.pdf("Fit for sea", "");
        assertThat(dark(shown(pdf, 1))).isPositive();
        assertThat(dark(shown(pdf, 2))).isZero();
        assertThat(shown(pdf, 1).getHeight()).isEqualTo(Picture.LONGEST_SIDE);
        assertThat(READING.picture(pdf, "a.pdf", 3)).isEmpty();
        assertThat(READING.picture(pdf, "a.pdf", 0)).isEmpty();
    }

    @Test
    void aPhotoLosesWhereAndWithWhatItWasTaken() throws Exception {
        byte[] photo = sample("testJPEG_GEO.jpg");
        assertThat(ImageMetadataReader.readMetadata(new ByteArrayInputStream(photo))
                        .containsDirectoryOfType(GpsDirectory.class))
                .isTrue();
        byte[] shown = READING.picture(photo, "photo.jpg", 1).orElseThrow();
        List<Directory> told = java.util.stream.StreamSupport.stream(
                        ImageMetadataReader.readMetadata(new ByteArrayInputStream(shown))
                                .getDirectories()
                                .spliterator(),
                        false)
                .toList();
        assertThat(told).noneMatch(GpsDirectory.class::isInstance).noneMatch(ExifDirectoryBase.class::isInstance);
        assertThat(new String(shown, java.nio.charset.StandardCharsets.ISO_8859_1))
                .doesNotContain("Canon", "Exif");
    }

    @Test
    void aPhotoIsTurnedUpright() throws Exception {
        BufferedImage wide = new BufferedImage(400, 100, BufferedImage.TYPE_INT_RGB);
        wide.createGraphics().fillRect(0, 0, 20, 100); // white on the left
        ByteArrayOutputStream jpeg = new ByteArrayOutputStream();
        ImageIO.write(wide, "jpeg", jpeg);
        BufferedImage shown = shown(turned(jpeg.toByteArray(), 6), 1);
        assertThat(List.of(shown.getWidth(), shown.getHeight())).containsExactly(100, 400);
        assertThat(shown.getRGB(50, 5) & 0xff).as("the left is the top").isGreaterThan(200);
        assertThat(shown.getRGB(50, 395) & 0xff).isLessThan(50);
        assertThat(READING.read(turned(jpeg.toByteArray(), 6), "a.jpg").detail())
                .isEqualTo("a picture of 100 × 400 dots, turned upright");
    }

    /** The picture with a tag that says how the camera was held, behind its first marker. */
    private static byte[] turned(byte[] jpeg, int orientation) {
        byte[] exif = {
            (byte) 0xff,
            (byte) 0xe1,
            0,
            34,
            'E',
            'x',
            'i',
            'f',
            0,
            0,
            'M',
            'M',
            0,
            42,
            0,
            0,
            0,
            8,
            0,
            1,
            1,
            0x12,
            0,
            3,
            0,
            0,
            0,
            1,
            0,
            (byte) orientation,
            0,
            0,
            0,
            0,
            0,
            0
        };
        byte[] all = new byte[jpeg.length + exif.length];
        System.arraycopy(jpeg, 0, all, 0, 2);
        System.arraycopy(exif, 0, all, 2, exif.length);
        System.arraycopy(jpeg, 2, all, 2 + exif.length, jpeg.length - 2);
        return all;
    }

    @Test
    void whatIsNoPictureIsntShown() throws Exception {
        assertThat(READING.picture(new byte[] {1, 2, 3}, "a.png", 1)).isEmpty();
        assertThat(READING.picture("<svg onload='x()'/>".getBytes(java.nio.charset.StandardCharsets.UTF_8), "a.svg", 1))
                .isEmpty();
        assertThat(READING.picture(Samples.goods(true), "a.xlsx", 1)).isEmpty();
        assertThat(READING.picture(Samples.encryptedPdf("x"), "a.pdf", 1)).isEmpty();
    }

    @Test
    void aPictureOfTooManyDotsIsRefusedBeforeItIsOpened() throws Exception {
        byte[] png = {
            (byte) 0x89,
            'P',
            'N',
            'G',
            '\r',
            '\n',
            0x1a,
            '\n',
            0,
            0,
            0,
            13,
            'I',
            'H',
            'D',
            'R',
            0,
            1,
            (byte) 0x86,
            (byte) 0xa0,
            0,
            1,
            (byte) 0x86,
            (byte) 0xa0,
            8,
            2,
            0,
            0,
            0,
            0,
            0,
            0,
            0
        };
        assertThat(READING.read(png, "huge.png").outcome()).isEqualTo(ReadOutcome.TOO_LARGE);
        assertThat(READING.picture(png, "huge.png", 1)).isEmpty();
    }
}
