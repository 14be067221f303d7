package kadrem.load.content;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.Optional;

import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.xpath.XPathConstants;
import javax.xml.xpath.XPathExpression;
import javax.xml.xpath.XPathExpressionException;
import javax.xml.xpath.XPathFactory;

import org.w3c.dom.Document;
import org.w3c.dom.NodeList;
import org.xml.sax.ErrorHandler;
import org.xml.sax.SAXException;
import org.xml.sax.SAXParseException;

/** An XPath 1.0 query. Not for use by several threads at the same time. */
public final class XmlQuery {
    private final XPathExpression expression;

    private XmlQuery(XPathExpression expression) {
        this.expression = expression;
    }

    /** @throws UnreadableContent if {@code text} is no XPath 1.0 */
    public static XmlQuery of(String text) throws UnreadableContent {
        try {
            return new XmlQuery(XPathFactory.newInstance().newXPath().compile(text));
        } catch (XPathExpressionException cause) {
            throw new UnreadableContent("\"" + text + "\" is no XPath 1.0: " + cause.getMessage());
        }
    }

    /** The document that {@code xml} holds; document types, and with them entities, are refused. */
    public static Document document(byte[] xml) throws UnreadableContent {
        try {
            DocumentBuilderFactory factory = DocumentBuilderFactory.newDefaultInstance();
            factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            factory.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
            factory.setNamespaceAware(true);
            var builder = factory.newDocumentBuilder();
            builder.setErrorHandler(new Quiet());
            return builder.parse(new ByteArrayInputStream(xml));
        } catch (SAXException | IOException cause) {
            throw new UnreadableContent("the body is not XML: " + cause.getMessage());
        } catch (ParserConfigurationException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** The text of the first node found, or of the number, string or truth that the expression gives. */
    public Optional<String> first(Document document) {
        try {
            NodeList nodes = (NodeList) expression.evaluate(document, XPathConstants.NODESET);
            return nodes.getLength() == 0 ? Optional.empty() : Optional.of(nodes.item(0).getTextContent());
        } catch (XPathExpressionException _) {
            // the expression gives no nodes
            try {
                return Optional.of(expression.evaluate(document));
            } catch (XPathExpressionException _) {
                return Optional.empty();
            }
        }
    }

    /** Errors are thrown, and not printed as the JDK's own handler does. */
    private static final class Quiet implements ErrorHandler {
        @Override
        public void warning(SAXParseException exception) {
            // of no consequence
        }

        @Override
        public void error(SAXParseException exception) throws SAXException {
            throw exception;
        }

        @Override
        public void fatalError(SAXParseException exception) throws SAXException {
            throw exception;
        }
    }
}
