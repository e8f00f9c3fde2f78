<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use Geschenk\App\Security\SignInAttempts;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/**
 * The running server asked for the same by four at once: one gets it, three are told why not, and what is stored is
 * stored once. Real processes on a real database, since that is where such things go wrong.
 */
final class TogetherTest extends TestCase
{
    use Scratch;

    private const TRIES = 6;

    /** @var resource|null */
    private mixed $server = null;
    private ?ScratchFolder $memory = null;
    private string $address = '';
    private string $token = '';
    private string $cookies = '';

    protected function setUp(): void
    {
        $this->memory = ScratchFolder::inMemory();
        $this->console('doctrine:migrations:migrate', '--no-interaction');
        $shop = new \SQLite3($this->path('shop.sqlite'));
        $hash = \SQLite3::escapeString(password_hash('tide', \PASSWORD_BCRYPT, ['cost' => 4]));
        $shop->exec(
            'INSERT INTO shop_user (username, display_name, role, password) '
                ."VALUES ('jette', 'J', 'technician', '$hash')",
        );
        $shop->close();
        $phones = $this->path('standin/phones');
        DemoMaker::rest(Phones::giving($phones, [], false, 60)->data('otterpost'));
        DemoMaker::rest(Phones::receiving($phones)->data('otterpost'));
        $this->console('shop:watch', '--once');
        $this->serve();
        $this->token = $this->text($this->one('GET', '/api/session'), 'token');
        $session = $this->one('POST', '/api/session', ['username' => 'jette', 'password' => 'tide']);
        $this->token = $this->text($session, 'token');
    }

    protected function tearDown(): void
    {
        if (is_resource($this->server)) {
            // The server has children of its own.
            posix_kill(-proc_get_status($this->server)['pid'], \SIGKILL);
            proc_close($this->server);
        }
        $this->memory?->remove();
    }

    public function testWhatFourAskForAtOnceIsDoneOnce(): void
    {
        $tray = [
            'customer' => 'A', 'contact' => 'B', 'consent' => true,
            'giving' => Phones::GIVING, 'receiving' => Phones::RECEIVING,
        ];
        self::assertSame([201 => 1, 422 => 3], $this->four('POST', '/api/trays', $tray));
        self::assertSame(
            [[1, 2, 1]],
            $this->rows('SELECT COUNT(*), (SELECT COUNT(*) FROM tray_phone), (SELECT COUNT(*) FROM move) FROM tray'),
        );

        for ($try = 1; $try <= self::TRIES; ++$try) {
            $asked = $this->four('POST', '/api/trays/41/moves/1/runs', ['kind' => 'backup']);
            self::assertSame([202 => 1, 422 => 3], $asked, "try $try");
            self::assertSame(
                [[$try, $try]],
                $this->rows("SELECT COUNT(*), (SELECT COUNT(*) FROM log_entry WHERE act = 'asked') FROM run"),
            );
            // The run and its message are stored together.
            self::assertSame(
                [[$try]], $this->rows("SELECT COUNT(*) FROM messenger_messages WHERE queue_name = 'runs'"),
            );
            $id = $this->text($this->one('GET', '/api/trays/41'), 'moves', 0, 'run', 'id');
            self::assertSame(
                [202 => 1, 422 => 3], $this->four('POST', "/api/trays/41/moves/1/runs/$id/pause"), "try $try",
            );
        }
        $id = $this->text($this->one('GET', '/api/trays/41'), 'moves', 0, 'run', 'id');
        self::assertSame([202 => 1, 422 => 3], $this->four('POST', "/api/trays/41/moves/1/runs/$id/go-on"));
        $this->work();
        $this->one('POST', '/api/trays/41/moves/1/runs', ['kind' => 'conversion'], 202);
        $this->work();
        $restore = ['kind' => 'restore', 'confirmed_tag' => '41-B'];
        self::assertSame([202 => 1, 422 => 3], $this->four('POST', '/api/trays/41/moves/1/runs', $restore));
        $this->work();
        // What is open is named first, and seen.
        self::assertSame([422 => 4], $this->four('POST', '/api/trays/41/hand-over'));
        $open = $this->one('GET', '/api/trays/41')['open'];
        self::assertIsArray($open);
        $seen = ['open' => array_column($open, 'id')];
        self::assertSame([200 => 1, 422 => 3], $this->four('POST', '/api/trays/41/hand-over', $seen));
        self::assertSame(
            [[1, 1, 0]],
            $this->rows("SELECT SUM(code = 'handed_over'), SUM(code = 'still_open'),
                (SELECT SUM(held) FROM tray_phone) FROM step WHERE stage = 'hand_over'"),
        );
        // Both phones are free again, for one.
        self::assertSame([201 => 1, 422 => 3], $this->four('POST', '/api/trays', $tray));
    }

    public function testOfFiftyGuessesAtOnceNotOneAboveTheLimitIsTried(): void
    {
        $this->one('DELETE', '/api/session');
        $this->token = $this->text($this->one('GET', '/api/session'), 'token');
        $guesses = [];
        for ($n = 0; $n < 50; ++$n) {
            $guesses[] = ['username' => 'jette', 'password' => "guess $n"];
        }
        ['statuses' => $statuses, 'answers' => $answers] = $this->together($guesses, 'POST', '/api/session');
        self::assertSame([401 => 50], $statuses);
        $tried = array_filter($answers, static fn (string $answer): bool => str_contains($answer, 'is wrong'));
        // The sign-in of the set-up was right, and is no guess.
        self::assertCount(SignInAttempts::OF_A_NAME, $tried);
        self::assertSame(
            [[SignInAttempts::OF_A_NAME, 1]],
            $this->rows("SELECT SUM(act = 'sign_in_refused_from'), SUM(act = 'sign_in_rests') FROM log_entry"),
        );
    }

    public function testTimeDoesNotTellWhoWorksHere(): void
    {
        $hash = password_hash('tide', \PASSWORD_BCRYPT, ['cost' => 13]);
        $shop = new \SQLite3($this->path('shop.sqlite'));
        foreach (['ada', 'bo', 'cy'] as $name) {
            $shop->exec('INSERT INTO shop_user (username, display_name, role, password) '
                ."VALUES ('$name', 'N', 'technician', '".\SQLite3::escapeString($hash)."')");
        }
        $shop->close();
        $this->one('DELETE', '/api/session');
        $this->token = $this->text($this->one('GET', '/api/session'), 'token');
        $seconds = ['there' => [], 'nobody' => []];
        // In turns, so that what else the machine does falls on both.
        for ($n = 0; $n < 11; ++$n) {
            foreach (['there' => ['ada', 'bo', 'cy'][$n % 3], 'nobody' => "nobody$n"] as $kind => $name) {
                $begun = hrtime(true);
                $this->one('POST', '/api/session', ['username' => $name, 'password' => 'wrong'], 401);
                $seconds[$kind][] = (hrtime(true) - $begun) / 1e9;
            }
        }
        $middle = array_map(static function (array $times): float {
            sort($times);

            return $times[intdiv(count($times), 2)];
        }, $seconds);
        self::assertEqualsWithDelta(1.0, $middle['there'] / $middle['nobody'], 0.5);
    }

    private function serve(): void
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($socket);
        $this->address = (string) stream_socket_get_name($socket, false);
        fclose($socket);
        $root = dirname(__DIR__, 2);
        $command = [
            'setsid', \PHP_BINARY, '-d', 'variables_order=EGPCS', '-S', $this->address, '-t', "$root/public",
            "$root/public/router.php",
        ];
        $log = ['file', $this->path('server.log'), 'a'];
        $server = proc_open($command, [['file', '/dev/null', 'r'], $log, $log], $pipes, $root, $this->environment());
        self::assertIsResource($server);
        $this->server = $server;
        for ($n = 0; $n < 100 && false === @file_get_contents("http://$this->address/api/session"); ++$n) {
            usleep(100_000);
        }
    }

    /** @return array<string, string> */
    private function environment(): array
    {
        return [
            'GESCHENK_DATA' => $this->path(), 'APP_ENV' => 'demo', 'APP_DEBUG' => '0',
            'APP_SECRET' => 'only-for-the-tests', 'GESCHENK_MEMORY' => $this->memory->path ?? '',
            'PHP_CLI_SERVER_WORKERS' => '6', 'PATH' => (string) getenv('PATH'),
        ];
    }

    private function console(string ...$words): void
    {
        $command = [\PHP_BINARY, dirname(__DIR__, 2).'/bin/console', ...array_values($words)];
        $process = proc_open($command, [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, null, $this->environment());
        self::assertIsResource($process);
        $said = stream_get_contents($pipes[1]).stream_get_contents($pipes[2]);
        self::assertSame(0, proc_close($process), $said);
    }

    /** Until no run is open any more, each by whatever worker and foreman do. */
    private function work(): void
    {
        for ($n = 0; $n < 20 && 0 < ($this->rows(
            "SELECT COUNT(*) FROM run WHERE state NOT IN ('done', 'failed')",
        )[0][0] ?? 0); ++$n) {
            $this->console('shop:watch', '--once');
            $this->console('messenger:consume', 'runs', '--time-limit=1', '--sleep=0.1', '--quiet');
        }
        self::assertSame(
            [], $this->rows("SELECT kind, trouble FROM run WHERE state = 'failed'"),
        );
        $this->console('messenger:consume', 'looks', '--time-limit=1', '--sleep=0.1', '--quiet');
    }

    /**
     * @param array<string, mixed>|null $body
     *
     * @return array<int, int> how often each status was answered
     */
    private function four(string $method, string $path, ?array $body = null): array
    {
        return $this->together(array_fill(0, 4, $body), $method, $path)['statuses'];
    }

    /**
     * @param list<array<string, mixed>|null> $bodies of requests that are sent at once
     *
     * @return array{statuses: array<int, int>, answers: list<string>} how often each status came, and what came
     */
    private function together(array $bodies, string $method, string $path): array
    {
        $multi = curl_multi_init();
        $all = array_map(fn (?array $body) => $this->request($method, $path, $body), $bodies);
        foreach ($all as $one) {
            curl_multi_add_handle($multi, $one);
        }
        do {
            curl_multi_exec($multi, $running);
            curl_multi_select($multi, 0.05);
        } while ($running > 0);
        $statuses = array_count_values(array_map(
            static fn (\CurlHandle $one): int => (int) curl_getinfo($one, \CURLINFO_RESPONSE_CODE),
            $all,
        ));
        ksort($statuses);

        return ['statuses' => $statuses, 'answers' => array_map(
            static fn (\CurlHandle $one): string => (string) curl_multi_getcontent($one), $all,
        )];
    }

    /**
     * @param array<string, mixed>|null $body
     *
     * @return array<array-key, mixed>
     */
    private function one(string $method, string $path, ?array $body = null, int $status = 200): array
    {
        $request = $this->request($method, $path, $body);
        $answer = (string) curl_exec($request);
        self::assertSame($status, curl_getinfo($request, \CURLINFO_RESPONSE_CODE), $answer);
        [$head, $content] = explode("\r\n\r\n", $answer, 2) + [1 => ''];
        if (1 === preg_match('/^set-cookie: (geschenk=[^;]+)/mi', $head, $cookie)) {
            $this->cookies = $cookie[1];
        }
        $data = json_decode($content, true);
        self::assertIsArray($data);

        return $data;
    }

    /** @param array<string, mixed>|null $body */
    private function request(string $method, string $path, ?array $body): \CurlHandle
    {
        $request = curl_init("http://$this->address$path");
        self::assertNotFalse($request);
        curl_setopt($request, \CURLOPT_CUSTOMREQUEST, '' === $method ? 'GET' : $method);
        curl_setopt($request, \CURLOPT_RETURNTRANSFER, true);
        curl_setopt($request, \CURLOPT_HEADER, true);
        curl_setopt($request, \CURLOPT_TIMEOUT, 60);
        curl_setopt($request, \CURLOPT_HTTPHEADER, [
            'X-Geschenk-Token: '.$this->token, 'Cookie: '.$this->cookies, 'Expect:',
            ...(null === $body ? [] : ['Content-Type: application/json']),
        ]);
        if (null !== $body) {
            curl_setopt($request, \CURLOPT_POSTFIELDS, json_encode($body, \JSON_THROW_ON_ERROR));
        }

        return $request;
    }

    /** @param array<array-key, mixed> $from */
    private function text(array $from, string|int ...$keys): string
    {
        $value = $from;
        foreach ($keys as $key) {
            self::assertIsArray($value);
            $value = $value[$key] ?? null;
        }
        self::assertIsString($value);

        return $value;
    }

    /** @return list<list<int|float|string|null>> */
    private function rows(string $sql): array
    {
        $shop = new \SQLite3($this->path('shop.sqlite'));
        $shop->busyTimeout(5_000);
        $found = $shop->query($sql);
        self::assertNotFalse($found);
        $rows = [];
        while (false !== ($row = $found->fetchArray(\SQLITE3_NUM))) {
            /** @var list<int|float|string|null> $row */
            $rows[] = $row;
        }

        return $rows;
    }
}
