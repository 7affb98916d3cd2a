package servitor.service.api;

import static org.assertj.core.api.Assertions.assertThat;

import com.google.zxing.BinaryBitmap;
import com.google.zxing.RGBLuminanceSource;
import com.google.zxing.common.HybridBinarizer;
import com.google.zxing.qrcode.QRCodeReader;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;

class QrCodeTests {
    private static final String LINK = "https://desk.skerryline.example/ask?kind=lost-thing";

    @Test
    void aPictureIsReadBackAsTheLink() throws Exception {
        BufferedImage image =
                ImageIO.read(new ByteArrayInputStream(QrCode.of(LINK).png()));
        int size = image.getWidth();
        int[] pixels = image.getRGB(0, 0, size, size, null, 0, size);
        assertThat(new QRCodeReader()
                        .decode(new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(size, size, pixels))))
                        .getText())
                .isEqualTo(LINK);
    }

    @Test
    void aDrawingHasEveryModuleThatThePictureHas() {
        QrCode code = QrCode.of(LINK);
        String svg = new String(code.svg(), StandardCharsets.UTF_8);
        int dark = 0;
        for (int x = 0; x < code.modules().getWidth(); x++) {
            for (int y = 0; y < code.modules().getHeight(); y++) {
                boolean drawn = svg.contains("M" + x + " " + y + "h1");
                assertThat(drawn)
                        .as("module %d, %d", x, y)
                        .isEqualTo(code.modules().get(x, y));
                dark += drawn ? 1 : 0;
            }
        }
        assertThat(dark).isPositive();
        assertThat(code.modules().get(3, 3)).as("within the quiet zone").isFalse();
    }
}
