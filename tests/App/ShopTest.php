<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\Bench\NoPhones;
use Geschenk\App\Kernel;
use Geschenk\Core\Phone\PhoneUnplugged;
use PHPUnit\Framework\TestCase;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\HttpFoundation\Request;

/** The stand-ins are wired into the demonstration and into tests; a shop has none of them. */
final class ShopTest extends TestCase
{
    public function testADemonstrationHasADesk(): void
    {
        $kernel = new Kernel('demo', true);
        self::assertTrue($this->session($kernel)['desk']);
        self::assertSame(401, $this->codeOf($kernel, '/api/standin/phones'));
        self::assertSame(
            [
                'bench:backup', 'bench:chats', 'bench:convert', 'bench:copy', 'bench:cupboard', 'bench:merge',
                'bench:seal', 'bench:shelf', 'bench:watch', 'demo:make', 'faults:act', 'faults:run', 'faults:shop',
            ],
            $this->commands($kernel),
        );
    }

    public function testAShopHasNone(): void
    {
        $kernel = new Kernel('prod', true);
        self::assertFalse($this->session($kernel)['desk']);
        self::assertSame(404, $this->codeOf($kernel, '/api/standin/phones'));
        self::assertSame([], $this->commands($kernel));
        self::assertSame([], (new NoPhones())->serials());
        $this->expectException(PhoneUnplugged::class);
        (new NoPhones())->link('ANY');
    }

    /** @return array<array-key, mixed> */
    private function session(Kernel $kernel): array
    {
        $answer = $kernel->handle(Request::create('/api/session'))->getContent();
        $session = json_decode((string) $answer, true);

        return is_array($session) ? $session : self::fail((string) $answer);
    }

    private function codeOf(Kernel $kernel, string $path): int
    {
        return $kernel->handle(Request::create($path))->getStatusCode();
    }

    /** @return list<string> of the demonstration */
    private function commands(Kernel $kernel): array
    {
        $names = array_keys((new Application($kernel))->all());
        $found = array_values(array_filter(
            $names, static fn (string $name): bool => 1 === preg_match('/^(bench|demo|faults):/', $name),
        ));
        sort($found);

        return $found;
    }
}
