package servitor.service.api;

import jakarta.servlet.RequestDispatcher;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.springframework.boot.webmvc.error.ErrorController;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.RequestMapping;
import servitor.service.ProblemAnswer;

/** What no controller has answered, such as a request that was refused before it was looked at. */
@Controller
class ErrorAnswers implements ErrorController {
    @RequestMapping("${server.error.path:/error}")
    void answer(HttpServletRequest request, HttpServletResponse response) throws IOException {
        Object status = request.getAttribute(RequestDispatcher.ERROR_STATUS_CODE);
        ProblemAnswer.write(response, status instanceof Integer code ? code : HttpServletResponse.SC_NOT_FOUND);
    }
}
