<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

/** A browser of the plainest sort, for measuring: one user, one request after the other. */
final class BenchBrowser
{
    private string $cookies = '';
    private string $token = '';

    /** @param string $address host and port */
    public function __construct(private readonly string $address)
    {
        for ($n = 0; $n < 100 && false === @file_get_contents("http://$address/api/session"); ++$n) {
            usleep(100_000);
        }
    }

    public function signIn(string $name, string $password): void
    {
        $this->take($this->ask('GET', '/api/session'));
        $this->take($this->ask('POST', '/api/session', ['username' => $name, 'password' => $password]));
    }

    /**
     * @param array<string, mixed>|null $body of a question that is posted
     *
     * @return non-empty-list<float> milliseconds, without the first ones, which warm up
     */
    public function times(string $path, int $requests, ?array $body = null): array
    {
        $times = [];
        for ($n = -5; $n < max(1, $requests); ++$n) {
            $begun = hrtime(true);
            $this->ask(null === $body ? 'GET' : 'POST', $path, $body);
            if ($n >= 0) {
                $times[] = (hrtime(true) - $begun) / 1e6;
            }
        }

        return [] === $times ? throw new \LogicException('Nothing was measured.') : $times;
    }

    private function take(string $answer): void
    {
        $session = json_decode($answer, true);
        $this->token = is_array($session) && is_string($session['token'] ?? null) ? $session['token'] : '';
    }

    /** @param array<string, mixed>|null $body */
    private function ask(string $method, string $path, ?array $body = null): string
    {
        $headers = ['Cookie: '.$this->cookies, 'X-Geschenk-Token: '.$this->token];
        if (null !== $body) {
            $headers[] = 'Content-Type: application/json';
        }
        $context = stream_context_create(['http' => [
            'method' => $method, 'header' => $headers, 'timeout' => 30,
            'content' => null === $body ? '' : json_encode($body, \JSON_THROW_ON_ERROR),
        ]]);
        $answer = file_get_contents("http://{$this->address}{$path}", false, $context);
        foreach ($http_response_header as $header) {
            if (1 === preg_match('/^set-cookie: (geschenk=[^;]+)/i', $header, $cookie)) {
                $this->cookies = $cookie[1];
            }
        }

        return false === $answer ? throw new \RuntimeException("The server did not answer $path.") : $answer;
    }
}
