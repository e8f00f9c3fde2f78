<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Tray\MessageView;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Looking into a backup. Texts stay covered until somebody uncovers a conversation, which is logged. */
final readonly class ChatController
{
    private const PAGE = 500;

    public function __construct(private Trays $trays, private TrayFiles $files, private RunSheet $sheet, private EntityManagerInterface $entities)
    {
    }

    #[Route('/api/trays/{number<\d+>}/conversations', methods: ['GET'])]
    public function conversations(int $number): JsonResponse
    {
        $tray = $this->trays->get($number);
        $chats = $this->chats($tray);
        $rows = array_map(static fn (array $row): array => [
            ...array_diff_key($row, ['key' => 1]), 'first_at' => Time::ofMilliseconds($row['first_at']), 'last_at' => Time::ofMilliseconds($row['last_at']), 'title' => null === $row['title'] ? null : mb_scrub($row['title']), 'labels' => array_map(mb_scrub(...), $row['labels']),
        ], $chats->overview());
        $summary = $chats->summary();

        return new JsonAnswer(['conversations' => $rows, 'messages_by_kind' => (object) $summary['messages_by_kind'], 'findings' => array_map(static fn (array $f): array => ['code' => $f['code'], 'subject' => $f['subject'], 'count' => $f['count']], $chats->findings())]);
    }

    #[Route('/api/trays/{number<\d+>}/conversations/{id<\d+>}/messages', methods: ['GET'])]
    public function messages(int $number, int $id, Request $request): JsonResponse
    {
        $tray = $this->trays->get($number);
        $chats = $this->chats($tray);
        $from = max(1, $request->query->getInt('from', 1));
        $limit = max(1, min(self::PAGE, $request->query->getInt('limit', 100)));
        $view = new MessageView($chats, $this->isUncovered($request, $tray, $id));
        $messages = [];
        foreach ($chats->glimpses($id, $from, $limit) as $stored) {
            $messages[] = $view->of($id, $stored);
        }

        return new JsonAnswer(['total' => $chats->messageCount($id), 'covered' => !$this->isUncovered($request, $tray, $id), 'messages' => $messages]);
    }

    /** Where in a conversation a day of the shop begins. */
    #[Route('/api/trays/{number<\d+>}/conversations/{id<\d+>}/place', methods: ['GET'])]
    public function place(int $number, int $id, Request $request): JsonResponse
    {
        $day = \DateTimeImmutable::createFromFormat('!Y-m-d', $request->query->getString('day'), new \DateTimeZone(Time::SHOP_ZONE)) ?: throw new \DomainException('That is no day.');

        return new JsonAnswer(['place' => $this->chats($this->trays->get($number))->placeAt($id, $day->getTimestamp() * 1000)]);
    }

    #[Route('/api/trays/{number<\d+>}/conversations/{id<\d+>}/uncovered', methods: ['PUT'])]
    public function uncover(int $number, int $id, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->get($number);
        $this->chats($tray)->messageCount($id) > 0 ?: throw new NotFoundHttpException('There is no such conversation with messages.');
        $request->getSession()->set(self::mark($tray, $id), true);
        $this->sheet->log($user->getUserIdentifier(), 'uncovered', $tray->number, sprintf('Conversation %d of the backup', $id));
        $this->entities->flush();

        return new JsonAnswer(['covered' => false]);
    }

    #[Route('/api/trays/{number<\d+>}/conversations/{id<\d+>}/uncovered', methods: ['DELETE'])]
    public function cover(int $number, int $id, Request $request): JsonResponse
    {
        $request->getSession()->remove(self::mark($this->trays->get($number), $id));

        return new JsonAnswer(['covered' => true]);
    }

    /** The small picture of an attachment, while its conversation is uncovered. */
    #[Route('/api/trays/{number<\d+>}/conversations/{id<\d+>}/previews/{message<\d+>}', methods: ['GET'])]
    public function preview(int $number, int $id, int $message, Request $request): Response
    {
        $tray = $this->trays->get($number);
        if (!$this->isUncovered($request, $tray, $id)) {
            throw new NotFoundHttpException('The conversation is covered.');
        }
        $preview = $this->chats($tray)->previewIn($id, $message);
        if (null === $preview || !str_starts_with($preview, "\xFF\xD8\xFF")) {
            throw new NotFoundHttpException('There is no preview.');
        }

        return new Response($preview, 200, ['Content-Type' => 'image/jpeg']);
    }

    private function chats(Tray $tray): ChatStore
    {
        $folder = $this->files->backupFolder($tray) ?? throw new NotFoundHttpException('There is no backup in this tray yet.');

        return new ChatStore($folder.'/data/'.Schema::FILE_NAME);
    }

    private function isUncovered(Request $request, Tray $tray, int $id): bool
    {
        return true === $request->getSession()->get(self::mark($tray, $id));
    }

    private static function mark(Tray $tray, int $id): string
    {
        return sprintf('uncovered.%d.%d', $tray->number, $id);
    }
}
