package servitor.service.api;

import com.google.zxing.BarcodeFormat;
import com.google.zxing.EncodeHintType;
import com.google.zxing.WriterException;
import com.google.zxing.common.BitMatrix;
import com.google.zxing.qrcode.QRCodeWriter;
import com.google.zxing.qrcode.decoder.ErrorCorrectionLevel;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import javax.imageio.ImageIO;

/** A QR code (ISO/IEC 18004), with the quiet zone of four modules around it that cameras need. */
record QrCode(BitMatrix modules) {
    private static final int QUIET = 4;
    /** So that it is printed sharply at some five centimetres. */
    private static final int PIXELS_A_MODULE = 12;

    private static final int BLACK = 0x000000;
    private static final int WHITE = 0xffffff;

    /** The code of {@code text}; a fifth of it may be dirty. */
    static QrCode of(String text) {
        try {
            return new QrCode(new QRCodeWriter()
                    .encode(
                            text,
                            BarcodeFormat.QR_CODE,
                            0,
                            0,
                            Map.of(
                                    EncodeHintType.ERROR_CORRECTION,
                                    ErrorCorrectionLevel.Q,
                                    EncodeHintType.MARGIN,
                                    QUIET,
                                    EncodeHintType.CHARACTER_SET,
                                    StandardCharsets.UTF_8.name())));
        } catch (WriterException e) {
            throw new IllegalArgumentException("The address is too long for a code: " + e.getMessage(), e);
        }
    }

    byte[] png() {
        int size = modules.getWidth() * PIXELS_A_MODULE;
        BufferedImage image = new BufferedImage(size, size, BufferedImage.TYPE_BYTE_BINARY);
        for (int x = 0; x < size; x++) {
            for (int y = 0; y < size; y++) {
                image.setRGB(x, y, modules.get(x / PIXELS_A_MODULE, y / PIXELS_A_MODULE) ? BLACK : WHITE);
            }
        }
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", bytes);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return bytes.toByteArray();
    }

    byte[] svg() {
        int size = modules.getWidth();
        StringBuilder path = new StringBuilder();
        for (int y = 0; y < size; y++) {
            for (int x = 0; x < size; x++) {
                if (modules.get(x, y)) {
                    path.append('M').append(x).append(' ').append(y).append("h1v1h-1z");
                }
            }
        }
        return ("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 " + size + " " + size
                        + "\" shape-rendering=\"crispEdges\"><path fill=\"#fff\" d=\"M0 0h" + size + "v" + size
                        + "H0z\"/><path d=\"" + path
                        + "\"/></svg>\n")
                .getBytes(StandardCharsets.UTF_8);
    }
}
