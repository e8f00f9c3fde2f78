<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Assert;
use Symfony\Component\Yaml\Yaml;

/** Holds an answer of the API against docs/openapi.yaml: path, method, status, media type and body. */
final class Contract
{
    private const ID = 'https://geschenk.invalid/openapi.json';
    private static ?object $document = null;
    private static ?Validator $validator = null;

    public static function assertHolds(string $method, string $path, int $status, string $type, string $content): void
    {
        $document = self::document();
        $template = self::template((string) parse_url($path, \PHP_URL_PATH));
        $pointer = self::pointer('paths', $template, strtolower($method), 'responses', (string) $status);
        $response = self::follow($document, $pointer);
        if (isset($response->{'$ref'}) && is_string($response->{'$ref'})) {
            $pointer = substr($response->{'$ref'}, 1);
            $response = self::follow($document, $pointer);
        }
        $media = explode(';', $type)[0];
        Assert::assertTrue(
            is_object($response->content) && property_exists($response->content, $media),
            "$method $template answers $status as $media, which docs/openapi.yaml does not know.",
        );
        $result = self::validator()->validate(
            json_decode($content, false, 64, \JSON_THROW_ON_ERROR),
            self::ID.'#'.strtr(
                $pointer, ['{' => '%7B', '}' => '%7D'],
            ).'/content/'.strtr($media, ['/' => '~1']).'/schema',
        );
        $error = $result->error();
        Assert::assertNull(
            $error, null === $error ? '' : "$method $path: ".json_encode((new ErrorFormatter())->format($error)),
        );
    }

    private static function template(string $path): string
    {
        $paths = self::follow(self::document(), '/paths');
        foreach (array_keys(get_object_vars($paths)) as $template) {
            if (1 === preg_match(
                '#^'.preg_replace('/\\\\\{\w+\\\\\}/', '[^/]+', preg_quote((string) $template, '#')).'$#', $path,
            )) {
                return (string) $template;
            }
        }
        Assert::fail("$path is not in docs/openapi.yaml.");
    }

    private static function pointer(string ...$parts): string
    {
        return implode(
            '', array_map(static fn (string $part): string => '/'.strtr($part, ['~' => '~0', '/' => '~1']), $parts),
        );
    }

    private static function follow(object $from, string $pointer): \stdClass
    {
        $value = $from;
        foreach (array_slice(explode('/', $pointer), 1) as $part) {
            $part = strtr($part, ['~1' => '/', '~0' => '~']);
            $value = is_object($value) ? get_object_vars($value)[$part] ?? null : null;
            Assert::assertNotNull($value, "docs/openapi.yaml has no $pointer.");
        }
        Assert::assertInstanceOf(\stdClass::class, $value);

        return $value;
    }

    private static function document(): object
    {
        if (null === self::$document) {
            $parsed = Yaml::parseFile(dirname(__DIR__, 2).'/docs/openapi.yaml', Yaml::PARSE_OBJECT_FOR_MAP);
            Assert::assertIsObject($parsed);
            self::$document = $parsed;
        }

        return self::$document;
    }

    private static function validator(): Validator
    {
        if (null === self::$validator) {
            self::$validator = new Validator();
            // Opis reads the OpenAPI document as one schema that the pointers lead into.
            self::$validator->resolver()?->registerRaw(self::document(), self::ID);
        }

        return self::$validator;
    }
}
