<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Http;

use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Contract;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** What is wrong with a body is said in our words, whatever it is, and nothing is done. */
final class BodyTest extends ApiTestCase
{
    private const GOOD = [
        'customer' => ' Ada ', 'contact' => 'B', 'consent' => true, 'giving' => Phones::GIVING,
        'receiving' => Phones::RECEIVING,
    ];

    /** @return iterable<string, array{string, string, string, string}> path, body, type, what is said */
    public static function wrong(): iterable
    {
        $json = 'application/json';
        $with = static fn (mixed $value, string $name = 'customer'): string => json_encode(
            [...self::GOOD, $name => $value], \JSON_THROW_ON_ERROR,
        );
        $none = 'holds no JSON object';
        yield 'no JSON' => ['/api/trays', 'hello', $json, $none];
        yield 'nothing' => ['/api/trays', '', $json, $none];
        yield 'no object' => ['/api/trays', '"a"', $json, 'consent is needed'];
        yield 'no UTF-8' => ['/api/trays', "{\"customer\":\"\xFF\"}", $json, $none];
        yield 'nested too deeply' => ['/api/trays', str_repeat('[', 600).str_repeat(']', 600), $json, $none];
        yield 'blank' => ['/api/trays', $with("  \t"), $json, '“Customer” is missing'];
        yield 'absent' => ['/api/trays', '{"consent":true}', $json, '“Customer” is missing'];
        yield 'null' => ['/api/trays', $with(null), $json, '“Customer” is missing'];
        yield 'a list' => ['/api/trays', $with(['x']), $json, '“Customer” is missing'];
        yield 'a number' => ['/api/trays', $with(7), $json, '“Customer” is missing'];
        yield 'too long' => ['/api/trays', $with(str_repeat('ä', 121)), $json, 'at most 120 characters'];
        yield 'no consent' => ['/api/trays', $with(false, 'consent'), $json, 'consent is needed'];
        yield 'an unknown language' => ['/api/trays', $with('tlh', 'language'), $json, 'holds something unknown'];
        yield 'no number' => [
            '/api/standin/phones/'.Phones::GIVING.'/cable', '{"megabytes_per_second":"7"}', $json, 'is no number',
        ];
    }

    #[DataProvider('wrong')]
    public function testWhatIsWrongIsSaid(string $path, string $body, string $type, string $said): void
    {
        $this->signIn();
        $this->layPhones();
        $method = str_ends_with($path, '/cable') ? 'PUT' : 'POST';
        $this->browser->request($method, $path, [], [], [
            'CONTENT_TYPE' => $type, 'HTTP_X_GESCHENK_TOKEN' => $this->token,
        ], $body);
        $response = $this->browser->getResponse();
        self::assertSame(422, $response->getStatusCode(), (string) $response->getContent());
        Contract::assertHolds(
            $method, $path, 422, (string) $response->headers->get('Content-Type'), (string) $response->getContent(),
        );
        self::assertStringContainsString($said, $this->detail((string) $response->getContent()));
        self::assertSame([], $this->value($this->call('GET', '/api/trays'), 'trays'));
    }

    public function testWhatWasTypedIsTrimmedAndNumbersMayBeWhole(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->watch();
        self::assertSame('Ada', $this->value($this->call('POST', '/api/trays', self::GOOD, 201), 'customer'));
        $cable = '/api/standin/phones/'.Phones::GIVING.'/cable';
        self::assertSame(
            4, $this->value($this->call('PUT', $cable, ['megabytes_per_second' => 4]), 'megabytes_per_second'),
        );
    }

    private function detail(string $content): string
    {
        $problem = json_decode($content, true, 8, \JSON_THROW_ON_ERROR);
        self::assertIsArray($problem);

        return $this->text($problem, 'detail');
    }
}
