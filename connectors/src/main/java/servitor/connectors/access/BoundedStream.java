package servitor.connectors.access;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;

/** Ends a peer that talks without end: reading more than {@link Connector#LONGEST_ANSWER} bytes of it fails. */
public final class BoundedStream extends FilterInputStream {
    private int left = Connector.LONGEST_ANSWER;

    public BoundedStream(InputStream in) {
        super(in);
    }

    @Override
    public int read() throws IOException {
        int read = super.read();
        count(read < 0 ? 0 : 1);
        return read;
    }

    @Override
    public int read(byte[] into, int offset, int length) throws IOException {
        int read = super.read(into, offset, length);
        count(Math.max(0, read));
        return read;
    }

    private void count(int read) throws IOException {
        left -= read;
        if (left < 0) {
            throw new IOException("it says more than " + Connector.LONGEST_ANSWER + " bytes");
        }
    }
}
